export interface DeckOptions
  extends Pick<VehicleDeckOptions, "lanes" | "height">,
    Partial<PassengerDeckOptions>,
    Named {
  lanes: number;
}

export interface BerthOptions<TBerth extends Berth = Berth>
  extends HarbourOptions<TBerth> {
  a: number;
}

export interface OfficeOptions<
  TOffice extends OfficeOfTheCompany = OfficeOfTheCompany
> extends HarbourOptions<TOffice> {}

export class CarDeck<TVehicle extends Vehicle, TLane extends Lane>
  extends VehicleDeck<TVehicle, TLane> implements Deck {}

export abstract class SailingView extends HarbourView
  implements OnOpen, OnClose, AfterChange, OnResize {}

class Ferry extends mixed(
  VehicleDeckWithRamp,
  PassengerDeckWithLounge,
  TicketOfficeWithQueue
) {
  lanes = 4;
}

type Answer = string | {
  message?: string;
};
type Props = HarbourProps & {
  berth: number;
  lane: number;
  sailing: string;
  deck: string;
  ticket: Ticket
};

interface Request<
  Raw extends RawRequestDefault<Server> = RawRequestDefault<Server>,
  Extra extends object = { berth: number }
> {
  raw: Raw;
}

export declare function zip<T, A extends readonly unknown[]>(
  others: [...ObservableInputTuple<A>]
): Result<T, Cons<T, A>>;
