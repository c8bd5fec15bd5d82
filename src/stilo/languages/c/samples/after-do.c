do {
    sail();
} while (sea.isCalm());
