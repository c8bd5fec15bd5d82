type Fare = { adult: number; child: number };
type Deck = {
  car: number; bus: number };
type Sailing = { from: Harbour; to: Harbour; at: Date; on: Deck; berth: Berth };
