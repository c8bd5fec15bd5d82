class Manifest<FirstTypeParameter extends Comparable<FirstTypeParameter>, SecondTypeParameter extends Comparable<SecondTypeParameter>> extends Document {
Map<String, List<Booking>> bookingsByHarbourOfDepartureAndWeekdayOfTheSailing = new java.util.HashMap<String, List<Booking>>(expectedNumberOfHarbours);
void wrap() throws UnknownHarbourException, BerthTakenException, TideTooLowException, CrewNotCompleteException, EngineColdException {
int total = firstDeck.laneMetres() * firstDeck.lanes() + secondDeck.laneMetres() * secondDeck.lanes() - reservedForTheCrew;
someObject.someField.someMethodWithALongName(firstArgument).anotherFieldOfTheResult.finish(secondArgument, third);
String label = passenger.isChild() ? "child, travels free in the company of an adult" : passenger.isIslander() ? "islander" : "visitor";
boolean ready = rampIsUp && doorsAreClosed && (tideIsHighEnough || berthIsDeepEnoughForAShipOfThisDraught) && !fogWarningIsInForce;
assertThat(timetable.sailingsFrom("Inner Sound")).as("sailings on a day with spring tide and gale warning").containsExactly(first, second);
veryLongReceiverNameOfSomeService.veryLongMethodNameThatTakesALambda(argument -> argument.isPresent() && argument.get().isValid());
for (int laneNumberOnTheUpperDeck = 0; laneNumberOnTheUpperDeck < upperDeck.numberOfLanes(); laneNumberOnTheUpperDeck++) { load(); }
for (Map.Entry<String, List<Booking>> bookingsOfOneHarbour : bookingsByHarbourOfDepartureAndWeekdayOfTheSailing.entrySet()) { load(); }
try (BufferedReader manifest = Files.newBufferedReader(manifestPath); BufferedWriter copy = Files.newBufferedWriter(copyPath)) { copy(); }
catch (FirstVeryLongExceptionNameForTheTest | SecondVeryLongExceptionNameForTheTest | ThirdVeryLongExceptionName e) { log(e); }
this.someVeryLongFieldNameOfThisManifest.another = someOtherObject.computeTheValueOfTheField(withOneArgument) + 1;
executor.submit(() -> { load(); return null; }).whenComplete((loaded, failure) -> { if (failure != null) { report(failure); } });
double[] tide = {0.41, 0.52, 0.63, 0.74, 0.85, 0.96, 1.07, 1.18, 1.29, 1.31, 1.42, 1.53, 1.64, 1.75, 1.86, 1.97, 2.08};
switch (harbour) { case "Inner Sound", "Outer Sound", "Northness", "Stack Point", "Kirk Geo", "Sule Roost", "Brough Holm", "Ness": load(); }
Object result = (com.example.skerry.manifest.internal.VeryLongTypeNameThatNeedsALineOfItsOwn<String>) computeTheResultOfIt();
return firstHarbour.equals(secondHarbour) == thirdHarbour.equals(fourthHarbourOfTheWholeTimetable) & flagWithAName;
}
@Timetabled(harbour = "Inner Sound", weekdays = {"mon", "tue", "wed", "thu", "fri"}, notBefore = "06:15", notAfter = "23:55") void annotated() {}
static <A extends Vehicle, B extends Comparable<B>> java.util.function.Function<A, B> extractor(Class<A> type, String name) { return null; }
}
class Spine { Object first() { return Harbour.allByName(host)[0]; } Object second() { return theHarbourMaster.allBerthsByNameAndDepth(nameOfTheBerth, depthOfTheBerthInMetres)[numberOfTheBerth].name(); } }
class Updates { void load() { for (int upperLane = 0, lowerLane = numberOfAllLanes, middle = lowerLane / 2; upperLane < lowerLane; upperLane++, lowerLane--) stow(); } }
class Lambdas { void check() {
   expectThrown(NoBerthException.class, () -> harbour.moorTheFerryAt(new Berth(northernQuay, 0), deck));
   scheduleTheDeparture(this, (all, me) -> subscription.sailing = me.run(observer, subscription, sail));
   sailings.computeIfAbsent(nameOfTheHarbour, key -> executor.submit(() -> { depart(sailing, deck, berth); }));
   sailings.computeIfAbsent(nameOfTheHarbour, key -> sailingsOf(key).stream().filter(Sailing::departs).toList());
} }
