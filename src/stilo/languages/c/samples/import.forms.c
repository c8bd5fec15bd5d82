#include "berth.h"
#include <stdio.h>
#include "tides.h"
