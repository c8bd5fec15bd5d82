var found = from sailing in timetable where sailing.IsTidal select sailing;
var all = from sailing in timetable select sailing;
