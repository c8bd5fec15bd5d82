# The ramp is lowered last.   
ramp.lower()
