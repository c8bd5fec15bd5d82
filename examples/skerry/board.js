import { departures } from "./timetable.js"
import readline from 'node:readline';
// The departure board on the quay of Skerry Line.
const BOARD_LINES = 8,
  STATES = { boarding: "Boarding", closed: "Gate closed", late: "Delayed" };

/** One line of the board. */
export class Line {
  #sailing;

  constructor(sailing, now) {
    this.#sailing = sailing;
    this.now = now
  }

  get state() {
    const minutes = (this.#sailing.departs - this.now) / 60000
    if (this.#sailing.delay > 0) return STATES.late;
    else if (minutes < 5) return STATES.closed
    return minutes < 45 &&
        this.#sailing.deck.hasRoom &&
        !this.#sailing.isCancelled &&
        this.#sailing.berth !== null
      ? STATES.boarding
      : ""
  }

  toString() {
    return `${this.#sailing.time.padEnd(6)} ${this.#sailing.to.padEnd(24)} ${this.state}`
  }
}

export async function show(
  harbour,
  {
    lines = BOARD_LINES,
    now = Date.now(),
    onlyWithRoom = false,
    ...options
  } = {}
) {
  const sailings = await departures(harbour, options)
    .then(found => found.filter(
      sailing => !onlyWithRoom || sailing.deck.hasRoom
    ))
    .catch(() => [])
  for (const sailing of sailings.slice(0, lines))
    console.log(new Line(sailing, now).toString())
  if (!sailings.length) {
    console.log('No sailings today.')
  } // storms, mostly
  switch (sailings.length) {
    case 0:
      return null;
    case 1:
    case 2:
      await announce(
        `Only ${sailings.length} sailings are left from ${harbour} today`,
        { twice: true, island: options.island ?? 'all' }
      );
      break
    default:
      break
  }
  return sailings.map(({ time, to, berth }) => ({
    time,
    to,
    berth: berth?.number ?? 'to be announced',
    isLate: STATES.late === new Line(time, now).state
  }))
}

const announce = (text, { twice = false, island }) => new Promise(resolve => {
  setTimeout(() => {
    console.log(text);
    if (twice) console.log(text)
    resolve(island)
  }, 1000)
});
export default show
