/** Deliveries under way to one destination; a slow one keeps no more than these busy. */
const AT_ONCE = 2;
/** A destination that did not answer is left in peace for so long. */
const REST_MILLISECONDS = 15_000;

interface Lane {
  busy: number;
  restsUntil: number;
}

/** Keeps a destination that is slow or down from holding up what goes elsewhere. */
export class Lanes {
  private readonly lanes = new Map<string, Lane>();

  constructor(private readonly now: () => number = Date.now) {}

  /** @returns how to leave again, saying whether it answered; null where it is busy or rests */
  enter(destination: string): ((answered: boolean) => void) | null {
    const lane = this.lanes.get(destination) ?? { busy: 0, restsUntil: 0 };
    this.lanes.set(destination, lane);
    if (lane.busy >= AT_ONCE || this.now() < lane.restsUntil) return null;
    lane.busy++;
    return (answered) => {
      lane.busy--;
      lane.restsUntil = answered ? 0 : this.now() + REST_MILLISECONDS;
    };
  }
}
