class Harbour {
  public static <S extends Sailing, B extends Comparable<? super B>, V> Collector<S, ?, SortedMap<B, List<V>>> groupedByBerthInOrder(Function<? super S, ? extends B> berthOf, Function<? super S, ? extends V> valueOf) { return null; }
  public static <S extends Sailing, B extends Comparable<? super B>> SortedBookings<S, B> of(int expected) { return null; }
  private static final synchronized SortedMap<String, List<SailingOfTheDay>> sailingsByBerthAndLane(List<Sailing> sailings) { return null; }
  private static final synchronized SortedMap<String, List<SailingOfTheDay>> sailings(List<Sailing> all) { return null; }
  <S extends Sailing> SortedMap<String, List<S>> sailingsByBerthAndLane(List<S> sailings, Deck deck) throws Closed, Storm { return null; }
}
