// stilo: set begin annotation-items.open=break annotation-items.close=break
@Indexes({"departure", "berth", "deck", "harbour of arrival", "ticket office"})
@Decks({"main",})
class Sailing {}
// stilo: set end
