deck = {
  car: 1, bus: 2,
  van: 3, lorry: 4
};
