"""The command line, run as a module."""

from stilo.cli.main import main

main()
