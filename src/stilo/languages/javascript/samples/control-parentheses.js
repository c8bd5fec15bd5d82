while (late) sail();
