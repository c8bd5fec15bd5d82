let a;
function moor() {}
function cast() {}
let b;
