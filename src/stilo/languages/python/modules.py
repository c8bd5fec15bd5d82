"""The modules of the standard library, as the running Python knows them (`sys`)."""

import sys

STANDARD = sys.stdlib_module_names
