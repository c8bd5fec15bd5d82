class Board {
    String rules = """
  .berth {
    color: navy;
  }
  """;
}
