@Indexes({"departure", "berth", "deck", "harbour of arrival", "ticket office"})
@Names({"departure of the first sailing in summer", "berth", "deck of the lorry"})
@IndexesOfTheWholeTable({"departure of the first sailing", "berth"})
@Decks({"main", "upper"})
class Sailing {}
