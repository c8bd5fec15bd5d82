@Table(name = "sailing", schema = "skerry", catalog = "line", comment = "all")
@Index(
    columns = "berth", unique = true)
@Column(name = "a", unique = true, nullable = false)
@TableOfTheFerryLine(name = "sailing", schema = "skerry", catalog = "line", comment = "sailings of the line")
class Sailing {}
