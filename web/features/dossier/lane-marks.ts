import { DateTime } from 'luxon';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import type { Lane } from '../../../core/boards/subjects/subject-board.js';

/** One mark of a lane: how many got through, or did not, in one stretch of time. */
export interface LaneMark {
  /** Milliseconds. */
  readonly time: number;
  readonly through: boolean;
  readonly events: number;
  readonly records: number;
}

const REFUSED: ReadonlySet<unknown> = new Set(['failure', 'blocked']);

/** The marks of each lane, of the rows of the hunt behind the lanes. */
export function laneMarks(
  columns: readonly HuntColumn[],
  rows: readonly HuntRow[],
): ReadonlyMap<string, readonly LaneMark[]> {
  const at = (name: string): number => columns.findIndex((column) => column.name === name);
  const time = columns.findIndex(({ type }) => type === 'time');
  const [lane, outcome, events, records] = [at('lane'), at('outcome'), at('events'), at('records')];
  const found = new Map<string, Map<string, LaneMark>>();
  for (const row of rows) {
    const name = row[lane];
    if (typeof name !== 'string') continue;
    const through = !REFUSED.has(row[outcome]);
    const when = typeof row[time] === 'string' ? Date.parse(row[time]) : Number.NaN;
    const key = `${when} ${through}`;
    const marks = found.get(name) ?? new Map<string, LaneMark>();
    const before = marks.get(key);
    marks.set(key, {
      time: when,
      through,
      events: (before?.events ?? 0) + Number(row[events] ?? 0),
      records: (before?.records ?? 0) + Number(row[records] ?? 0),
    });
    found.set(name, marks);
  }
  return new Map([...found].map(([name, marks]) => [name, [...marks.values()]]));
}

/** How high a mark is, pixels: logarithmic, since one lane holds single events and thousands. */
export function markHeight({ height }: Lane, { events, records }: LaneMark): number {
  return height === 'records' && records > 0
    ? Math.min(10, 1.5 + 1.62 * Math.log10(records))
    : Math.min(10, 5.5 + 3 * Math.log10(Math.max(1, events)));
}

/** What a lane comes to: events, or records where its marks are as high as those. */
export const laneTotal = (lane: Lane, marks: readonly LaneMark[]): number =>
  marks.reduce((sum, { events, records }) => sum + (lane.height === 'records' ? records : events), 0);

/** The one thing worth writing on a lane, and the mark it stands at; null where nothing is. */
export function laneRemark(
  lane: Lane,
  marks: readonly LaneMark[],
  usual: number,
): { readonly time: number; readonly text: string } | null {
  const count = (value: number): string => Math.round(value).toLocaleString('en-GB');
  if (lane.height === 'records') {
    const [largest] = [...marks].sort((a, b) => b.records - a.records);
    return largest !== undefined && largest.records > Math.max(1000, 10 * usual)
      ? { time: largest.time, text: `${count(largest.records)} records` }
      : null;
  }
  const refused = marks.filter(({ through }) => !through);
  const many = refused.reduce((sum, { events }) => sum + events, 0);
  const [heaviest] = [...refused].sort((a, b) => b.events - a.events);
  if (heaviest === undefined || many < 5 || many <= 2 * usual) return null;
  const got = marks.some(({ time, through }) => through && time >= heaviest.time);
  return { time: heaviest.time, text: `${count(many)} refused${got ? ', then in' : ''}` };
}

/** Alerts that lie close together share one fan. @param near milliseconds */
export function gatherAlerts<A extends { readonly lastEvent: string }>(
  alerts: readonly A[],
  near: number,
): { readonly time: number; readonly alerts: readonly A[] }[] {
  const groups: { time: number; alerts: A[] }[] = [];
  for (const alert of [...alerts].sort((a, b) => (a.lastEvent < b.lastEvent ? -1 : 1))) {
    const time = Date.parse(alert.lastEvent);
    const last = groups.at(-1);
    if (last !== undefined && time - last.time <= near) last.alerts.push(alert);
    else groups.push({ time, alerts: [alert] });
  }
  return groups;
}

/** The stretches of a window that lie in usual hours, neighbours put together; none of a window of many days. */
export function usualBands(
  hours: readonly number[],
  { from, to }: { readonly from: number; readonly to: number },
  zone: string,
): (readonly [number, number])[] {
  const HOUR = 3_600_000;
  if (hours.length === 0 || to - from > 8 * 24 * HOUR) return [];
  const usual = new Set(hours);
  const bands: [number, number][] = [];
  for (let at = Math.floor(from / HOUR) * HOUR; at < to; at += HOUR) {
    if (!usual.has(DateTime.fromMillis(at, { zone }).hour)) continue;
    const last = bands.at(-1);
    const [begin, end] = [Math.max(from, at), Math.min(to, at + HOUR)];
    if (last?.[1] === begin) last[1] = end;
    else bands.push([begin, end]);
  }
  return bands;
}
