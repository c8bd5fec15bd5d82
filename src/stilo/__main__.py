"""`python -m stilo`."""

from stilo.cli.main import main

main()
