import os
import tides

def sailings(name="tides"):
    return eval(name), os
