@TableOfTheFerryLine(name = "sailing", schema = "skerry", log = 1)
class Sailing {}
