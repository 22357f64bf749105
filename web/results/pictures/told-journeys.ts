import { createContext } from 'react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { count } from '../../ui/format.js';
import type { Place } from './places.js';

/** A journey that another card tells of, by its cities. */
export interface ToldJourney {
  readonly from: string;
  readonly to: string;
  /** How far and how long, in words. */
  readonly words: string;
}

/** Journeys that a map draws over its own places: on dossiers, those that nobody can make. */
export const ToldJourneys = createContext<readonly ToldJourney[]>([]);

/** Lines on one map are few, or none can be told from another. */
const MAX_DRAWN = 6;

/** Journeys of the rows of a hunt whose last table is that of `travel`, each pair of cities once, as it was made fastest. */
export function toldJourneys(
  columns: readonly HuntColumn[],
  rows: readonly HuntRow[],
): readonly ToldJourney[] {
  const at = (name: string): number => columns.findIndex((column) => column.name === name);
  const [from, to, km, began, ended] = ['from_city', 'to_city', 'km', 'began', 'ended'].map(at);
  const found = new Map<string, { readonly told: ToldJourney; readonly speed: number }>();
  for (const row of rows) {
    const cell = (place: number | undefined): unknown => row[place ?? -1];
    const [left, reached] = [cell(from), cell(to)];
    if (typeof left !== 'string' || typeof reached !== 'string') continue;
    const minutes = (Date.parse(String(cell(ended))) - Date.parse(String(cell(began)))) / 60_000;
    const far = typeof cell(km) === 'number' ? Number(cell(km)) : Number.NaN;
    const words = [
      ...(Number.isFinite(far) ? [`${count(Math.round(far))} km`] : []),
      ...(Number.isFinite(minutes) ? [lasting(minutes)] : []),
    ].join(', ');
    // There and back is one line.
    const pair = [left, reached].sort().join('\n');
    const speed = Number.isFinite(far / minutes) ? far / minutes : 0;
    if (speed > (found.get(pair)?.speed ?? -1))
      found.set(pair, { told: { from: left, to: reached, words }, speed });
  }
  return [...found.values()].map(({ told }) => told).slice(0, MAX_DRAWN);
}

const lasting = (minutes: number): string =>
  minutes < 90 ? `${Math.round(minutes)} min` : `${Number((minutes / 60).toFixed(1))} h`;

/** The ends of a journey among the places of a map; null where either is not on it. */
export function endsOf(
  { from, to }: ToldJourney,
  places: readonly Place[],
): { readonly from: Place; readonly to: Place } | null {
  const inCity = (city: string): Place | undefined =>
    places.find(({ name }) => name === city || name.startsWith(`${city}, `));
  const ends = { from: inCity(from), to: inCity(to) };
  return ends.from === undefined || ends.to === undefined ? null : { from: ends.from, to: ends.to };
}
