function moor() {};

class Berth {
  lower() {};
};
sail();
;
if (tide) {};

function load() {
  board();;
  ;
}

const lanes = 4;
[1, 2].forEach(load);
(function () { sail() })()
