class Ferry {
    @Override
    public int lane() {}
}
