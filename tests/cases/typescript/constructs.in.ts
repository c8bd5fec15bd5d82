import type { Harbour } from './harbours'; import { type Deck, Lane } from "./decks"; import fs = require('fs')
/** A berth. */
export interface Berth<T extends Ferry = Ferry> extends Place, Named { readonly length: number; name?: string, [key: string]: unknown; moor(ferry: T, line?: Line): Promise<void>
  new (depth: number): Berth<T>; (tide: string): void }
type Fare = 'adult' | 'child' | { kind: 'group', size: number } | Fare[];
type State = "free" | "boarding" | "closed" | "cancelled because of the weather" | "delayed by the tide"
type Loader<T> = (ferry: T, ...vehicles: Vehicle[]) => vehicles is Car[]; type Built = new (...parts: any[]) => object; type Both = Harbour & { tide: Tide }
type Loaded<T> = { readonly [K in keyof T]?: T[K] extends Array<infer U> ? U : never }; type Route = `${Harbour}-${Harbour}`; type Part = Ferry['decks'][number]
type Lines = {
  first: string
  second?: number
  call(): void
}
type Weather =
 | Calm | { wind: number, from: Direction } | Storm<WarningOfTheHarbourMaster> | Fog;
enum Tide { Low = 1, High, Slack = 'x' } declare const enum Deckside { Port }
@Registered({ line: 'Skerry' }) export abstract class Boat<T> extends Hull<T> implements Named, Place { private readonly decks: Deck[] = []; static count?: number; declare flag: string; depth!: number
 constructor(public name: string, private readonly port?: Harbour, @Inject(Clock) protected clock: Clock = new Clock()) { super() } abstract sail(): void; @log() get length(): number { return 1 } protected async load<V>(v: V, n = 1): Promise<V | null> { return v as unknown as V } override clear<const K>(this: Boat): asserts this is Empty {}
 @Input() berth: string; @Output() @Once() left = new Emitter<Harbour>() }
function price(of: Passenger): number; function price(of: Vehicle, deck: Deck): number
function price(of: any, deck?: any): any { return <any>of!; }
declare module 'skerry' { export default function tides(): void; }
declare global { interface Window { skerry: string } }
let a: typeof tide.high, b: unique symbol, c: [from: Harbour, to?: Harbour, ...rest: boolean[]], d = plan satisfies Plan, e: keyof typeof plan, f: (string | number)[], g: Skerry.Quay.Lane<Deck>
const h = fares as const, i = parse<Fare>('adult'), j = <T,>(x: T) => x, k = (x: number): x is 4 => x === 4
const sailingsOfTheDay: Map<Harbour, Array<Sailing<FerryOfTheNorthernLine>>> = new Map<Harbour, Array<Sailing<FerryOfTheNorthernLine>>>()
export function book({ passenger, vehicle, season }: { passenger: Passenger; vehicle?: Vehicle; season: Season }, deck: Deck = Deck.Main): Ticket | undefined { return undefined }
for (const lane of lanes as Lane[]) lane.clear!()
export type { Harbour }; export * as decks from './decks'
abstract class Empty {}
