harbour.queue(() -> {
    ramp.lower();
});
harbour.queue(() -> { ramp.raise(); });
