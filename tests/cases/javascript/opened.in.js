const holder = createTicketHolder({ name: 'Isla', capacity: 120, deck: 'lower', heated: true });
sailings.register(new TicketHolder({ name: 'Isla', capacity: 120, deck: 'lower', heated: true }));
sailings.register('someVeryLongNameOfASailing', new TicketHolder({ name: 'Isla', capacity: 120, deck: 'lower' }));
fares.add(passengerOnTheUpperDeck, { adult: 1450, child: 725, vehicle: 4100, bicycle: 0 });
fares.parse({ adult: 1450, child: 725 }, { strict: true, allowBicycles: false, throwOnUnknown: true });
expect(fares.parse({ adult: 1450, child: 725, vehicle: 4100 }).bicycle).toBe(undefined);
const fare = fares.object({ adult: 1450, child: 725, vehicle: 4100, bicycle: 0, dog: 0 }).strict();
const plan = harbour.find('Inner Sound', { berth: 3, tide: 'high', ramp: 'aft', lanes: 14 }).plan;
const allFares = fares.object({ adult: 1450, child: 725, vehicle: 4100, bicycle: 0 }).refine(fare => fare.adult > fare.child).strict();
const labels = sailings.map(sailing => { return sailing.label; }).join(', ');
return Promise.all([loadSailings(today), loadBerths(harbour), loadTides(harbour)]).then(([sailings, berths]) => { plan(sailings, berths); });
if (typeof reduce(undefined, {
  type: UNKNOWN_SAILING,
}) === 'undefined') depart();
if (harbourOffice.lengthOfAllVehiclesOnDeck(sailing, deckNumberOfTheVehicle, today) === 0 && ready) depart();
const label = isChild ? // travels free
  'child' : // pays
  fareOf(passenger);
const other = isChild
  ? // travels free
    'child'
  : fareOf(passenger);
const lanes = [
  'upper deck',


  // closed in winter
  'lower deck',
];
sailings.plan({
  harbour: 'Inner Sound',
}, (error, plan) => {
  if (error) throw error;
});
sailings.plan('Inner Sound', { berth: 3, tide: 'high', ramp: 'aft', deck: 'upper' }, plan => { depart(plan); });
const { harbour, berth, tide, ramp, lanes, deck, vehicles, passengers, freight } = this;
const { captain } = await crew.ofTheSailing('Inner Sound to Stack Point', dayOfTheWeek);
const strict = fares.object({
  adult: 1450,
}).refine(fare => fare.adult > fare.child).strict();
