// stilo: set begin annotation-items.open=new-line annotation-items.close=own-line
@Indexes({"departure", "berth", "deck", "harbour of arrival", "ticket office"})
@Decks({"main",})
class Sailing {}
// stilo: set end
