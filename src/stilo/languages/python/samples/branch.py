if tide > 3:
    sail()



# at low water
elif ramp:
    load()

else:
    wait()
