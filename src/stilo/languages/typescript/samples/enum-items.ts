enum Deck {
  Upper,


  Main,
  Lower,
  Bicycles
}
enum Tide { High, Low, }
enum Harbour { Skerryvore, InnerHolm, OuterHolm, GannetSound, TheStack }
enum State {
  Free, Taken }
