from skerry.berths import Berth
import sys
import os
from skerry.berths import Quay, berth10, berth2
from skerry import Deck as Level, Lane
import tides
from .tickets import sell
