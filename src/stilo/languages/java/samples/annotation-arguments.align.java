// stilo: set annotation-arguments.open=cling
@Table(name = "sailing", schema = "skerry", catalog = "line", comment = "all")
class Sailing {}
