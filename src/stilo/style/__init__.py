"""Styles: what each layer gives to each setting, and what comes of it for a file."""
