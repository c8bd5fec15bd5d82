class Ferry
{
    void Moor()
    {
        if (full) goto done;
        Lower();
    done:
        Leave();
    }
}
