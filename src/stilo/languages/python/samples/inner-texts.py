rules = """
.berth { color: navy; margin: 0 }
"""
base.query("""
.berth { color: navy; margin: 0 }
""")
