const moor = function (berth) {};
