#include "lane.h"
#include <stdio.h>
#include "berth.h"
#include <errno.h>
