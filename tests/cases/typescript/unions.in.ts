interface Berth {
  vessel?:
    | string
    | Ferry;
  delegate: | { moor: typeof moor } | undefined;
}
type Deck = | 'upper' | 'lower';
type Quay =
  // of stone
  | 'north' | // of timber
  'south';
type Ramp = 'bow' | 'stern';
let current = previous as
  | Sailing
  | undefined;
let all: (| Sailing | Ferry)[];
let some: Map<| Sailing | Ferry>;
export function sail<T extends Ferry>(ferry: T): Sailing<T>;
export function sail(ferry: any) {
  return ferry;
}
class Office {
  open(day: string): void;
  /** of all days */
  open(day: any) {
    return day;
  }
  close() {}
}
function plan(options?: {
  berth: number;
  tide: number;
}): any {}
function register<
  S extends Sailing = Sailing,
  D extends Deck = Deck,
>(params?: { sailing: S; deck: D }): Ticket<S, D>;
function book<S, D,>(sailing: S, deck: D): void;
const first = <T,>(value: T) => value;
const table = new Map([
  ['bow', 1],
  ['stern', 2],
] as [string, number][]);
