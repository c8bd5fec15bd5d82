const field = <input name="berth" />;
