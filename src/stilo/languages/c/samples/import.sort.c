#include <skerry/b2.h>
#include <skerry/B10.h>
#include <skerry/a.h>
#include <skerry/C.h>
#include <skerry/SKY.h>
