import os
import tides

def sailings(name):
    return eval(name), os
