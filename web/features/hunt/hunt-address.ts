/** What of a hunt stands in the address besides the Beam: enough for a colleague to see the same. */
export interface HuntAddress {
  readonly text: string;
  /** What its blanks are filled with, by name. */
  readonly blanks: Readonly<Record<string, string>>;
  /** The line of the step whose rows are looked at; null for the whole hunt. */
  readonly peek: number | null;
  /** The event that is read. */
  readonly readId: string | null;
  readonly view: string | null;
}

export const FIRST_HUNT = 'from signin';
const BLANK = 'p.';

/** Reads a hunt off an address. */
export function readHuntAddress(parameters: URLSearchParams): HuntAddress {
  const peek = Number(parameters.get('peek') ?? '');
  return {
    text: parameters.get('q') ?? FIRST_HUNT,
    blanks: Object.fromEntries(
      [...parameters].flatMap(([name, value]) =>
        name.startsWith(BLANK) ? [[name.slice(BLANK.length), value]] : [],
      ),
    ),
    peek: Number.isInteger(peek) && peek > 0 ? peek : null,
    readId: parameters.get('event'),
    view: parameters.get('view'),
  };
}

/** The address with a change of the hunt in it; what is null is taken out. */
export function writeHuntAddress(parameters: URLSearchParams, change: Partial<HuntAddress>): URLSearchParams {
  const next = new URLSearchParams(parameters);
  const put = (name: string, value: string | number | null | undefined): void => {
    if (value === undefined) return;
    if (value === null) next.delete(name);
    else next.set(name, String(value));
  };
  put('q', change.text);
  put('peek', change.peek);
  put('event', change.readId);
  put('view', change.view);
  if (change.blanks !== undefined) {
    for (const name of [...next.keys()]) if (name.startsWith(BLANK)) next.delete(name);
    for (const [name, value] of Object.entries(change.blanks))
      if (value !== '') next.set(BLANK + name, value);
  }
  return next;
}
