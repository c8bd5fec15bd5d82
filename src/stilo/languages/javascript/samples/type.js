let a;
class Berth {}


class Lane {}
let b;
