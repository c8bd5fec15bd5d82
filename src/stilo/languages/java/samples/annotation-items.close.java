// stilo: set begin annotation-items.open=new-line
@Indexes({"departure", "berth", "deck", "harbour of arrival", "ticket office"})
class Sailing {}
// stilo: set end
