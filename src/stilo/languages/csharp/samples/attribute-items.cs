[Sailing("Inner Sound"), Ramped(false), Berthed(3), Timetabled, Insured]
class Ferry {}
