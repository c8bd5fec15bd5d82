class Ferry {
  @Inject()
  deck: Deck;
}
