#include "lane.h"
#include <stdio.h>
#include <errno.h>
#include "berth.h"
