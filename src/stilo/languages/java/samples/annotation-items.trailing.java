// stilo: set begin annotation-items.open=new-line annotation-items.close=own-line
@Indexes({"departure of the first sailing in summer", "berth of the ferry on that day"})
@Decks({"main",})
class Sailing {}
// stilo: set end
