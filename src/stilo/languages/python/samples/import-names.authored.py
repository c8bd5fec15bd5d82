from line.skerry.tide import (
    High,
    Low)
from line.skerry.ramp import (Gate,
    Hinge)
