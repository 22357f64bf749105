import { DateTime } from 'luxon';
import { visibleText } from '../../../core/text/visible.js';
import { shortened } from '../../ui/format.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import type { Lane, Telling } from '../../../core/boards/subjects/subject-board.js';

/** One mark of a lane: how many got through, or did not, in one stretch of time. */
export interface LaneMark {
  /** Milliseconds. */
  readonly time: number;
  readonly through: boolean;
  readonly events: number;
  readonly records: number;
  /** What is told of its events. */
  readonly tells: readonly string[];
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
  const tells = at('tells');
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
      tells: [...(before?.tells ?? []), ...(typeof row[tells] === 'string' ? [row[tells]] : [])],
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

/** What is written on a lane. */
export interface LaneRemark {
  /** The moment of the mark that it stands behind. */
  readonly after: number;
  /** The moment of the mark that it stands before, where there is no room behind the other. */
  readonly before: number;
  readonly text: string;
  /** Whether it is names as systems write them. */
  readonly names: boolean;
}

/** Different values that are told, at most; and the longest that are. */
const MAX_TOLD = 3;
const MAX_LETTERS = 40;

const standing = (time: number, text: string): LaneRemark => ({
  after: time,
  before: time,
  text,
  names: false,
});

/** What is told of a lane's events in words; null where no more happened than usual, or nothing that says more. */
function toldRemark(
  { between, after = '', least = 1, names = false }: Telling,
  marks: readonly LaneMark[],
): LaneRemark | null {
  const inOrder = [...marks].sort((a, b) => a.time - b.time);
  const values = [...new Set(inOrder.flatMap(({ tells }) => tells))];
  const [first, last] = [inOrder[0], inOrder.at(-1)];
  if (first === undefined || last === undefined || values.length < least || values.length === 0) return null;
  let shown = values.slice(0, MAX_TOLD).map(visibleText);
  while (shown.length > 1 && shown.join(between).length > MAX_LETTERS) shown = shown.slice(0, -1);
  const left = values.length - shown.length;
  const text = shown.map((one) => shortened(one, MAX_LETTERS)).join(between);
  return {
    after: last.time,
    before: first.time,
    text: left > 0 ? `${text} and ${left} more` : `${text}${after}`,
    names,
  };
}

/**
 * The one thing worth writing on a lane; null where nothing is.
 * @param usual how much there is of it in as much time
 */
export function laneRemark(lane: Lane, marks: readonly LaneMark[], usual: number): LaneRemark | null {
  const count = (value: number): string => Math.round(value).toLocaleString('en-GB');
  if (lane.height === 'records') {
    const [largest] = [...marks].sort((a, b) => b.records - a.records);
    if (largest === undefined || largest.records <= Math.max(1000, 10 * usual)) return null;
    const times = marks.filter(({ records }) => records === largest.records).length;
    const often = times === 1 ? '' : times === 2 ? ', twice' : `, ${times} times`;
    return standing(largest.time, `${count(largest.records)} records${often}`);
  }
  const told =
    lane.tells !== undefined && laneTotal(lane, marks) > usual ? toldRemark(lane.tells, marks) : null;
  if (told !== null) return told;
  const refused = marks.filter(({ through }) => !through);
  const many = refused.reduce((sum, { events }) => sum + events, 0);
  const [heaviest] = [...refused].sort((a, b) => b.events - a.events);
  if (heaviest === undefined || many < 5 || many <= 2 * usual) return null;
  const got = marks.some(({ time, through }) => through && time >= heaviest.time);
  return standing(heaviest.time, `${count(many)} refused${got ? ', then in' : ''}`);
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

/** Between a mark and what is written beside it, pixels. */
const BESIDE = 8;
/** One reads on behind a mark: before it is written what would stand so much farther off, pixels. */
const RATHER = 60;

/**
 * Where a remark is written, so that it crosses no mark: behind its own or before it, or behind or before those that lie
 * close to that; where it stands nearest.
 * @param marks where the marks above the line stand, pixels
 * @param remark where the marks stand that it would be behind, or before, and how wide it is
 * @param room from where to where the line goes
 * @returns null where room is nowhere
 */
export function placeOfRemark(
  marks: readonly number[],
  remark: { readonly after: number; readonly before: number; readonly width: number },
  room: readonly [number, number],
): { readonly x: number; readonly textAnchor: 'start' | 'end' } | null {
  const need = remark.width + 2 * BESIDE;
  const behind = [remark.after, ...marks.filter((x) => x > remark.after), room[1] + BESIDE].sort(
    (a, b) => a - b,
  );
  const ahead = [remark.before, ...marks.filter((x) => x < remark.before), room[0] - BESIDE].sort(
    (a, b) => b - a,
  );
  const right = behind.find((x, i) => (behind[i + 1] ?? -Infinity) - x >= need) ?? Infinity;
  const left = ahead.find((x, i) => x - (ahead[i + 1] ?? Infinity) >= need) ?? -Infinity;
  const [toRight, toLeft] = [right - remark.after, remark.before - left];
  if (toRight <= toLeft + RATHER && toRight < Infinity) return { x: right + BESIDE, textAnchor: 'start' };
  return toLeft < Infinity ? { x: left - BESIDE, textAnchor: 'end' } : null;
}
