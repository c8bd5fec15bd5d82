Runnable moor = () -> {
    ramp.lower();
};
Runnable sail = () -> { ramp.raise(); };
