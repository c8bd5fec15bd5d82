@Table(name = "sailing", schema = "skerry", catalog = "line", comment = "all")
@TableOfTheSkerryFerryLine(comment = "all sailings of the line", name = "sailing")
class Sailing {}
