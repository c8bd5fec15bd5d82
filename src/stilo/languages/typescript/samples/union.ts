type State = "free" | "boarding" | "closed" | "cancelled" | "delayed" | "gone";
type Berth = Map<"northern" | "southern" | "eastern" | "western" | "the quay", Deck>;
