// stilo: set annotation-arguments.open=same-line
@Table(name = "sailing", schema = "skerry", catalog = "line", comment = "all")
class Sailing {}
