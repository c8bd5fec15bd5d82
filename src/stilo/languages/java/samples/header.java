public static synchronized TimetableOfTheSummer readTimetable(Path path) throws IOException {}
public class Ferry extends Vessel<Harbour> implements Comparable<Ferry> {}
public class Dinghy extends Vessel<Harbour> {}
