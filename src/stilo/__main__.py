"""The command line, run as a module."""

import os
import sys

# Run so, the current folder stands before all others: what lies there is none of our packages.
if sys.path and os.path.abspath(sys.path[0]) == os.getcwd():
    del sys.path[0]

from stilo.cli.main import run

run()
