class Board {
    String rules = """
        .berth { color: navy; margin: 0 }
        """;
    Rows rows = base.query("""
        .berth { color: navy; margin: 0 }
        """);
}
