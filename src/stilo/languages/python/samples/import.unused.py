import os
import tides

def sailings():
    return os.listdir("sailings")
