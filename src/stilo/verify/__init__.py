"""The one check of every result, on the very bytes that are handed out."""
