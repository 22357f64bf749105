import { figuresOf } from '../../../core/boards/columns.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { columnCalled, nameOf, placesOf, SHAPE_COLUMNS, shapeOf, type View } from './shape.js';

/** What of a result a picture is judged by. */
interface Judged {
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly text: string;
}

/** Fewer rows than this are drawn as bars; more are no picture. */
const MAX_BARS = 60;
const MAX_WORDS = 200;

const NO_FIGURE = 'It needs a figure in each row: add a tally, such as "tally count() per user".';
const NO_KEY = 'It needs something to count by: tally per a field, such as "tally count() per user".';
const NO_TIME = 'It needs figures over time: tally with "every", such as "tally count(), every 1h".';

/** Single events hold figures that nobody sums, such as where a place lies. */
const isEvents = ({ columns }: Judged): boolean => columns.some(({ field }) => field === 'id');

const figures = (judged: Judged): string | null =>
  isEvents(judged) || shapeOf(judged.columns).figure === null ? NO_FIGURE : null;

const overTime = (judged: Judged): string | null =>
  figures(judged) ??
  (shapeOf(judged.columns).time === null
    ? NO_TIME
    : judged.rows.length < 2
      ? 'It needs two stretches of time at least.'
      : null);

const byKey = (judged: Judged): string | null =>
  figures(judged) ?? (shapeOf(judged.columns).keys.length === 0 ? NO_KEY : null);

const untimed = (judged: Judged): string | null =>
  byKey(judged) ??
  (shapeOf(judged.columns).time === null
    ? null
    : 'Its rows are stretches of time: look at them as a line or as stacked bars.');

/** Whether a key has two values, so that the other one can be shown as pairs. */
const hasTwoSided = ({ columns, rows }: Judged): boolean =>
  shapeOf(columns)
    .keys.slice(0, 2)
    .some((at) => new Set(rows.map((row) => nameOf(row[at]))).size <= 2);

/** Why a picture cannot show a result; null where it can. The table shows every one. */
const reasons: Readonly<Record<View, (judged: Judged) => string | null>> = {
  table: () => null,
  map: ({ columns, text }) =>
    placesOf(columns, text) === null
      ? 'It needs places: events, or a tally per country, city, lat and lon; or "travel" as the last step.'
      : null,
  shapes: (judged) =>
    figures(judged) ??
    (SHAPE_COLUMNS.every((name) => columnCalled(judged.columns, name) >= 0)
      ? null
      : 'It needs the step "shapes of", such as "shapes of message".'),
  number: (judged) =>
    figures(judged) ??
    (judged.rows.length === 1 && shapeOf(judged.columns).keys.length === 0
      ? null
      : 'It shows one figure: tally without "per".'),
  bars: (judged) =>
    untimed(judged) ??
    (judged.rows.length <= MAX_BARS ? null : `It shows up to ${MAX_BARS} rows: add "first ${MAX_BARS}".`),
  line: overTime,
  area: overTime,
  heat: (judged) => {
    const { keys, time } = shapeOf(judged.columns);
    return (
      figures(judged) ??
      (keys.length + (time === null ? 0 : 1) < 2
        ? 'It needs two things to count by, such as "per host, finding".'
        : judged.rows.length < 2
          ? 'It needs two rows at least.'
          : null)
    );
  },
  flow: (judged) =>
    byKey(judged) ??
    (shapeOf(judged.columns).keys.length < 2
      ? 'It needs two to four things to count by, in their order.'
      : null),
  // One stretch is a bar; a line needs two.
  stacked: (judged) => figures(judged) ?? (shapeOf(judged.columns).time === null ? NO_TIME : null),
  ranked: untimed,
  words: (judged) =>
    untimed(judged) ??
    (judged.rows.length <= MAX_WORDS ? null : `It shows up to ${MAX_WORDS} words: add "first 40".`),
  hours: overTime,
  paired: (judged) =>
    untimed(judged) ??
    (figuresOf(judged.columns).length >= 2 ||
    (shapeOf(judged.columns).keys.length >= 2 && hasTwoSided(judged))
      ? null
      : 'It needs two figures a row, or a second key with two values, such as the outcome.'),
  dots: (judged) =>
    untimed(judged) ??
    (figuresOf(judged.columns).length >= 2
      ? null
      : 'It needs two figures a row: the one of now, and the usual one.'),
  sentences: (judged) =>
    isEvents(judged) && judged.columns.length > 14
      ? 'It makes words of a few columns: choose them with "show".'
      : null,
};

/** Every way to look at a result, in the order they are offered. */
export const allViews = Object.keys(reasons) as View[];

/** Why a result cannot be looked at so, and what would help; null where it can. */
export function whyNot(
  view: View,
  columns: readonly HuntColumn[],
  rows: readonly HuntRow[],
  text: string,
): string | null {
  if (view !== 'table' && rows.length === 0) return 'There are no rows.';
  return reasons[view]({ columns, rows, text });
}

/** The views that suit a result, the table first. */
export const viewsOf = (columns: readonly HuntColumn[], rows: readonly HuntRow[], text: string): View[] =>
  allViews.filter((view) => whyNot(view, columns, rows, text) === null);

/** What each is called. */
export const viewNames: Readonly<Record<View, string>> = {
  table: 'Table',
  map: 'Map',
  shapes: 'Shapes',
  number: 'Number',
  bars: 'Bars',
  ranked: 'Ranked',
  words: 'Words',
  line: 'Line',
  area: 'Area',
  stacked: 'Stacked',
  hours: 'Week',
  paired: 'Paired',
  heat: 'Heat',
  flow: 'Flow',
  dots: 'Dots',
  sentences: 'Sentences',
};
