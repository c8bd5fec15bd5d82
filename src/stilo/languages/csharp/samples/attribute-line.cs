[Sailing]
class Ferry {}
