const field = <input name="berth" type="text" required />;
