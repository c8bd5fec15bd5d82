type Deck = {
  car: number;



  bus: number
};
