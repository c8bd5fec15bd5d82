deck = {
  car: 1,



  bus: 2
};
