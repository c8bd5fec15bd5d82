import os
from skerry.log import log

FERRIES = 3
import sys

log("ferries", FERRIES)
from skerry import decks


def lanes():
    return decks.lanes(os.name, sys.argv)
