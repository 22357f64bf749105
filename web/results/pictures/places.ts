import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import type { PlacesBy } from './shape.js';

/** A place of the rows: how many stand there, and a name. */
export interface Place {
  readonly lat: number;
  readonly lon: number;
  readonly name: string;
  readonly events: number;
  /** A row that stands there, by index. */
  readonly row: number;
}

/** A journey from one place to another. */
export interface Journey {
  readonly from: Place;
  readonly to: Place;
  readonly row: number;
}

export interface Placed {
  readonly places: readonly Place[];
  readonly journeys: readonly Journey[];
  /** Rows without a place. */
  readonly without: number;
}

/** Places that a map takes, at most. */
const MOST = 1000;

/** The hunt that gives the rows a map is drawn from. @param text the hunt behind the result */
export function mapHunt(by: PlacesBy, text: string): string {
  const whole = text.trimEnd();
  switch (by) {
    case 'events':
      return `${whole}\ntally count() as events per country, city, lat, lon\nsort events desc\nfirst ${MOST}`;
    case 'columns':
      return whole;
    case 'journeys':
      return `${whole}\nset "from lat" = from.lat\nset "from lon" = from.lon\nset "to lat" = to.lat\nset "to lon" = to.lon\nfirst ${MOST}`;
  }
}

/** Puts rows on the map. */
export function placeRows(by: PlacesBy, columns: readonly HuntColumn[], rows: readonly HuntRow[]): Placed {
  const at = (name: string): number => columns.findIndex((column) => column.name === name);
  const numbers = columns.flatMap(({ type, name }, i) =>
    type === 'number' && name !== 'lat' && name !== 'lon' ? [i] : [],
  );
  const found = new Map<string, Place>();
  const journeys: Journey[] = [];
  let without = 0;
  const placeOf = (row: HuntRow, i: number, prefix: string, events: number): Place | null => {
    const [lat, lon] = [row[at(`${prefix}lat`)], row[at(`${prefix}lon`)]];
    if (typeof lat !== 'number' || typeof lon !== 'number') return null;
    const under = prefix.trim() === '' ? '' : `${prefix.trim()}_`;
    const names = [row[at(`${under}city`)], row[at(`${under}country`)]].filter(
      (name): name is string => typeof name === 'string' && name !== '',
    );
    const name = names.length === 0 ? `${lat}, ${lon}` : names.join(', ');
    // Sources give one town somewhat different coordinates.
    const key = names.length === 0 ? `${lat} ${lon}` : name;
    const known = found.get(key);
    const place =
      known === undefined ? { lat, lon, name, events, row: i } : { ...known, events: known.events + events };
    found.set(key, place);
    return place;
  };
  rows.slice(0, MOST).forEach((row, i) => {
    if (by === 'journeys') {
      const from = placeOf(row, i, 'from ', 1);
      const to = placeOf(row, i, 'to ', 1);
      if (from === null || to === null) without++;
      else journeys.push({ from, to, row: i });
      return;
    }
    const figure = row[numbers[0] ?? -1];
    if (placeOf(row, i, '', typeof figure === 'number' ? figure : 1) === null)
      without += typeof figure === 'number' ? figure : 1;
  });
  return { places: [...found.values()].sort((a, b) => b.events - a.events), journeys, without };
}
