def board():
    rules = """
.berth {
  color: navy;
}
"""
