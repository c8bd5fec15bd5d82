#!/usr/bin/env node
'use strict';
import tide from "./tide.js";
import { low as ebb, high } from './tides.js';
import * as quay from "quay"
import "./polyfill.js";
export { ebb, high as flood } from './tides.js';
export * from "./deck.js";
export * as lanes from "./lanes.js";

export default class Ferry extends mixin(Boat, Cargo) {
  static #count = 1;

  static {
    Ferry.#count++;
  }

  decks = []
  'car deck' = 2;

  get free() {
    return this.decks.filter(d => d.isFree).length
  }

  set free(n) {
    this.room = n
  }

  async *load(vehicles = [], ...rest) {
    for await (const v of vehicles) {
      yield* this.place(v);
    }
  }

  static of = name => new Ferry(name);

  [Symbol.iterator]() {
    return this.decks[Symbol.iterator]()
  }

  #stow(v) {
    delete v.ticket;
    return void 0
  }
}

var lanes = [1, 2, , 4],
  holes = [,],
  { a: { b: deep }, c = 3, ...others } = plan,
  [first, , third = tide(), ...more] = list
let x = -y,
  z = +y,
  w = - -y,
  v = !x,
  u = ~x,
  t = typeof x === 'number',
  s = x ** 2 * 3,
  r = (1, 2),
  q = x?.y?.[z]?.(w) ?? v
x ||= y;
x &&= z;
x ??= w;
x >>>= 2;
i++;
--i
if (x) y();
else if (z) {
  w()
} else v()
for (;;) break
for (var i = 0, n = list.length; i < n; i++) {
  if (!list[i]) continue;
  else break
}
for (const key in tides) if (tides.hasOwnProperty(key)) total += tides[key]
outer:
while (true) {
  do {
    x--;
    if (x < 0) break outer
  } while (x > 5);
  do y();
  while (z)
}
while (x--);
try {
  sail()
} catch {
  wait()
} finally {
  moor()
}
try {
  sail()
} catch ({ code, message }) {
  throw new Error(`Not ${code} sailing: ${message
  }`)
}
switch (tide()) {
  case 'low':
  case "ebb": {
    wait();
    break
  }
  case 'high':
    sail();
    break
  default:
    moor()
}
const plain = function () {},
  named = function sail(deck) { return deck },
  gen = function* () {
    const got = yield;
    yield got
  },
  arrow = async ({ deck, lane }) => { await deck[lane] },
  one = d => d * 2,
  none = () => ({}),
  nested = a => b => c => a + b + c
const pattern = /^[a-z/]+\/(?<x>.)$/giu,
  tagged = html`<b>${x}</b>`,
  big = 1_000n,
  hex = 0XFF,
  text = 'it\'s "quoted"'
new Ferry;
new Ferry(1).load();
new (choose())(2);
(function () { sail() })();
(() => sail())();
!function () {}()
const isReady =
  tide.isHigh() &&
    !deck.isFull() &&
    (harbour.isOpen() || captain.insists()) &&
    sea.isCalm() ||
  false
const price =
  isChild ? fare / 2
    : isSenior && !isPeak ? fare * 0.8
    : hasCard ? fare - discountOf(card, season)
    : fare + surchargeOf(season, crossing)
departures(harbour)
  .then(found => found.filter(sailing => sailing.isLate))
  .then(function (late) { return announce(late) })
  .catch(error => { log(error) })
  .finally(done)
const { data: { sailing: { berth, deck: carDeck } } } = await fetch(
  `https://skerry.example/sailings/${id}`,
  { headers: { Accept: "application/json" } }
)
button.addEventListener('click', async event => {
  event.preventDefault();
  await book(event.target.dataset.sailing, passengers, {
    vehicle,
    cabin: true,
    insurance: false
  })
})
describe('the berth', () => {
  it('is free at first', async () => {
    expect(await berth.isFree()).toBe(true)
  });
  it.skip('later', () => {})
})
quay.berths.north.moor(
  quay.ferries.find(f => f.name === 'Puffin'),
  quay.tides.current,
  quay.captain
)
const message =
  'The sailing to ' + harbour.name + ' at ' + sailing.time + ' is late by ' +
  minutes + ' minutes.'
object = {
  short,
  method() {},
  async other() {},
  *gen() {},
  get got() {
    return 1
  },
  set got(v) {},
  [computed + 'x']: 1,
  'quoted key': 2,
  3: 4,
  ...spread,
  fn: function () { return 1 },
  arrow: () => { go() }
}
/* before */ call(/* none */);
call(a /* first */, b); // after
if (a) { // why
  b() // trailing
  // own line
}
debugger;
with (old) {
  sail()
}
label:
for (const a of b) {
  continue label
}
import('./lazy.js').then(({ default: lazy }) => lazy());
export const meta = import.meta.url, target = () => new.target

exports.departures =
  exports.arrivals =
  exports.sailings =
  exports.berths =
  exports.tickets =
  void 0;
board.first = board.last = null;
