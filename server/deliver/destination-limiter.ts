/** Deliveries under way to one destination; a slow one keeps no more than these busy. */
const AT_ONCE = 2;
/** A destination that did not answer is left in peace for so long. */
const REST_MILLISECONDS = 15_000;

interface Load {
  busy: number;
  restsUntil: number;
}

/** Keeps a destination that is slow or down from holding up what goes elsewhere. */
export class DestinationLimiter {
  private readonly loads = new Map<string, Load>();

  constructor(private readonly now: () => number = Date.now) {}

  /** @returns how to leave again, saying whether it answered; null where it is busy or rests */
  enter(destination: string): ((answered: boolean) => void) | null {
    const load = this.loads.get(destination) ?? { busy: 0, restsUntil: 0 };
    this.loads.set(destination, load);
    if (load.busy >= AT_ONCE || this.now() < load.restsUntil) return null;
    load.busy++;
    return (answered) => {
      load.busy--;
      load.restsUntil = answered ? 0 : this.now() + REST_MILLISECONDS;
    };
  }
}
