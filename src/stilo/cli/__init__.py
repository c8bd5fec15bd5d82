"""The command line: parse arguments, call the library, print."""
