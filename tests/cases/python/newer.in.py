# Syntax that came late, some of it newer than the Python that lays this out.
type  Lane[T:(int,str),*Ts,**P] = list[ T ]
class Deck[T:Vehicle](Base[T]):
    lanes: tuple[ * Ts ]
def first[T: Hashable](lane : T, *others: *Ts)->T:
    async with  ramp as lowered , log as written:
        return  lane
try:
    board(vehicle)
except* (TooHigh,TooLong) as refused:
    pass
match tide:
  case [low, * rest] | {"low": low, ** rest}:
    pass
  case Level(metres = - 1,ebb=True) if  low<0: pass
  case -1|None: pass
  case - 1- 2j: pass
  case {- 1: level}: pass
print(f"{ berth!r:>{ width }} {tide = }", f'{lanes["main"]}')
