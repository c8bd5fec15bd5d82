const holder = createTicketHolder({
  name: 'Isla',
  capacity: 120,
  deck: 'lower',
  heated: true
});
sailings.register(
  new TicketHolder({ name: 'Isla', capacity: 120, deck: 'lower', heated: true })
);
sailings.register(
  'someVeryLongNameOfASailing',
  new TicketHolder({ name: 'Isla', capacity: 120, deck: 'lower' })
);
fares.add(passengerOnTheUpperDeck, {
  adult: 1450,
  child: 725,
  vehicle: 4100,
  bicycle: 0
});
fares.parse(
  { adult: 1450, child: 725 },
  { strict: true, allowBicycles: false, throwOnUnknown: true }
);
expect(fares.parse({ adult: 1450, child: 725, vehicle: 4100 }).bicycle)
  .toBe(undefined);
const fare = fares
  .object({ adult: 1450, child: 725, vehicle: 4100, bicycle: 0, dog: 0 })
  .strict();
const plan = harbour
  .find('Inner Sound', { berth: 3, tide: 'high', ramp: 'aft', lanes: 14 })
  .plan;
const allFares = fares
  .object({ adult: 1450, child: 725, vehicle: 4100, bicycle: 0 })
  .refine(fare => fare.adult > fare.child)
  .strict();
const labels = sailings.map(sailing => { return sailing.label; }).join(', ');
return Promise
  .all([loadSailings(today), loadBerths(harbour), loadTides(harbour)])
  .then(([sailings, berths]) => { plan(sailings, berths); });
if (
  typeof reduce(undefined, {
    type: UNKNOWN_SAILING,
  }) === 'undefined'
) depart();
if (
  harbourOffice.lengthOfAllVehiclesOnDeck(
    sailing,
    deckNumberOfTheVehicle,
    today
  ) === 0 &&
  ready
) depart();
const label = isChild
  ? // travels free
    'child'
  : // pays
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
sailings.plan(
  'Inner Sound',
  { berth: 3, tide: 'high', ramp: 'aft', deck: 'upper' },
  plan => { depart(plan); }
);
const {
  harbour,
  berth,
  tide,
  ramp,
  lanes,
  deck,
  vehicles,
  passengers,
  freight
} = this;
const { captain } = await crew.ofTheSailing(
  'Inner Sound to Stack Point',
  dayOfTheWeek
);
const strict = fares
  .object({
    adult: 1450,
  })
  .refine(fare => fare.adult > fare.child)
  .strict();
harbour.use(timed(function (sailing, deck, next) {
  depart(sailing);
  next();
}));
harbour.use('/berths/inner-sound', timed(function (sailing, deck, next) {
  depart(sailing);
  next();
}));
harbour.register(
  '/berths/:number/sailings',
  timed(async (sailing, deck, vehicles, next) => { depart(sailing); })
);
remark('Inner Sound', [
  'The ramp is lowered at high water,',
  'and only if the crew is aboard.'
].join('\n'));
remark('Inner Sound', [...berths].map(async berth => {
  const tide = await tideAt(berth);
  depart(tide);
}));
remark(
  [...berths]
    .map(async berth => {
      const tide = await tideAt(berth);
      depart(tide);
    })
    .filter(tide => { return tide; })
);
const lanesOfDeck = this.lanesOfAllDecks(
  additionalLanes,
  this.sailing.lanes[indexOfLane]
);
const [upperLanes, lowerLanes] = lanesOfTheDecks(
  sailing.upperDeck,
  sailing.lowerDeck,
  indexOfLane
);
const boardingPasses = Object.entries(sailings)
  .map(([number, sailing]) => passOf(sailing, number));
const departure = clock.now()
  .roundedToMinutes(5)
  .inTimeZone(harbour.timeZone)
  .asTextOf('hours');
const onDeparture = sailings.register(
  "departureOfAnySailing",
  (sailing, deck) => { depart(sailing, deck); }
);
const timetable = readTimetable(
  'the timetable of the winter season, from November until March'
);
ferry.read(
  this[deck],
  buffer,
  0,
  buffer.length,
  null,
  (error, lanes, tide) => this[onRead](error, lanes, tide)
);
source.subscribe(
  createSubscriber(subscriber, (sailing) => {
    depart(sailing);
  }, () => { arrive(sailing); }, undefined)
);
const answerOf = (direction, event) =>
  new HarbourAnswer(event, request, `${direction}_${event.nameOfType}`, 12);
const {
  arrivals,
  departures,
  berthsOfTheHarbour,
  ferriesAtSea
} = require('skerry-line/timetable')
const {
  arrivals,
  departures,
  berthsOfTheHarbour,
  ferriesAtSea
} = await load('timetable')
