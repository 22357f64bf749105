import { SECOND, type Instant } from '../base/instant.js';
import { makeSubject, USUAL_SUBJECTS, type Subject } from '../detect/subject.js';
import { meetsCounts } from '../detect/windows.js';
import type { HuntRule } from '../sigma/rule-model.js';
import { jsonToText } from '../text/json-text.js';
import { readNumber } from '../text/numbers.js';
import type { Column, Value, Window } from '../wick/plan.js';
import type { EventAt } from './replay.js';

/** The rows of a hunt, and the events that each opens. */
export interface HuntRows {
  readonly columns: readonly Column[];
  readonly rows: readonly (readonly Value[])[];
  readonly opens: readonly (readonly EventAt[])[];
}

/** Something that a hunt tells. */
export interface HuntMatch {
  readonly subject: Subject;
  readonly time: Instant;
  readonly events: readonly EventAt[];
  /** Tells the same thing found again in the next window from a new one; null for the whole run. */
  readonly identity: RowIdentity | null;
}

/** By what a row is known again. */
export interface RowIdentity {
  readonly text: string;
  /** Stands for events that have no time of their own, so that it is told again once its window has passed. */
  readonly passes: boolean;
}

/** What a run of a hunt came to. */
export interface HuntOutcome {
  /** What the trigger measures; null where it is asked of each row. */
  readonly measured: number | null;
  readonly matches: readonly HuntMatch[];
}

/** The window that a run looks at. @param due when it is due */
export const windowOf = ({ over, lateness }: HuntRule, due: Instant): Window => ({
  from: due - lateness - over,
  to: due - lateness,
});

/** The columns that say whom a row is about: those that the rule names, else the first usual one. */
export function subjectColumns(hunt: HuntRule, columns: readonly Column[]): readonly number[] {
  const at = (name: string): number =>
    columns.findIndex((column) => column.name.toLowerCase() === name.toLowerCase() || column.field === name);
  if (hunt.settings.subject !== null) return hunt.settings.subject.map(at).filter((i) => i >= 0);
  const usual = USUAL_SUBJECTS.map(at).find((i) => i >= 0);
  return usual === undefined ? [] : [usual];
}

function subjectOf(row: readonly Value[], columns: readonly Column[], at: readonly number[]): Subject {
  const fields = at.flatMap((i) => {
    const text = jsonToText(row[i] ?? null);
    const column = columns[i];
    return text === null || text === '' || column === undefined ? [] : [[column.field ?? column.name, text]];
  });
  return makeSubject(Object.fromEntries(fields) as Record<string, string>);
}

const numberOf = (value: Value | undefined): number | null =>
  typeof value === 'number' ? value : typeof value === 'string' ? readNumber(value) : null;

/** What the trigger measures of a whole run. */
function measure(hunt: HuntRule, { columns, rows }: HuntRows): number {
  const distinct = (at: readonly number[]): number =>
    new Set(rows.map((row) => JSON.stringify(at.map((i) => row[i] ?? null)))).size;
  switch (hunt.trigger.of) {
    case 'rows':
    case 'column':
      return rows.length;
    case 'subjects':
      return distinct(subjectColumns(hunt, columns));
    case 'sources':
      return distinct(
        columns.flatMap(({ name, field }, i) => (name === 'source' || field === 'source' ? [i] : [])),
      );
  }
}

/** Whether a figure is so much more or less than the one before; the first run has none to compare with. */
function changed({ change }: HuntRule['trigger'], now: number, before: number | null): boolean {
  if (change === null) return true;
  if (before === null) return false;
  const least = change.unit === '%' ? (before * change.by) / 100 : change.by;
  const difference = change.way === 'rises' ? now - before : before - now;
  return difference >= least && difference > 0;
}

/**
 * What a run of a hunt tells.
 * @param before what the run before measured; null for the first
 */
export function judgeHunt(
  hunt: HuntRule,
  found: HuntRows,
  window: Window,
  before: number | null,
): HuntOutcome {
  const { trigger } = hunt;
  const { columns, rows, opens } = found;
  const keys = subjectColumns(hunt, columns);
  const latest = (events: readonly EventAt[]): Instant =>
    events.length === 0 ? window.to - SECOND : Math.max(...events.map(({ time }) => time));
  const ofRow = (i: number): HuntMatch => {
    const row = rows[i] ?? [];
    const events = opens[i] ?? [];
    const subject = subjectOf(row, columns, keys);
    const times = columns.flatMap(({ type }, at) => (type === 'time' ? [row[at] ?? null] : []));
    const text = JSON.stringify([subject.text, events.map(({ id }) => id), times]);
    const passes = events.length === 0 && times.length === 0;
    return { subject, time: latest(events), events, identity: { text, passes } };
  };
  if (trigger.of === 'column') {
    const at = columns.findIndex(({ name }) => name.toLowerCase() === trigger.column?.toLowerCase());
    const met = rows.flatMap((row, i) => {
      const value = numberOf(row[at]);
      return value !== null && meetsCounts(trigger.condition, value) ? [i] : [];
    });
    return { measured: null, matches: hunt.tells === 'row' ? met.map(ofRow) : whole(met.map(ofRow), latest) };
  }
  const measured = measure(hunt, found);
  const met = meetsCounts(trigger.condition, measured) && changed(trigger, measured, before);
  const all = met ? rows.map((_, i) => ofRow(i)) : [];
  // Where nothing is what was asked for, as when fewer than so many rows are to be told, there is still the run.
  if (met && (hunt.tells === 'run' || all.length === 0))
    return { measured, matches: all.length === 0 ? [wholeOf([], latest)] : whole(all, latest) };
  return { measured, matches: all };
}

const wholeOf = (rows: readonly HuntMatch[], latest: (events: readonly EventAt[]) => Instant): HuntMatch => {
  const events = rows.flatMap((row) => row.events);
  const [first] = rows;
  const same = first !== undefined && rows.every(({ subject }) => subject.text === first.subject.text);
  return { subject: same ? first.subject : makeSubject({}), time: latest(events), events, identity: null };
};

const whole = (
  rows: readonly HuntMatch[],
  latest: (events: readonly EventAt[]) => Instant,
): readonly HuntMatch[] => (rows.length === 0 ? [] : [wholeOf(rows, latest)]);
