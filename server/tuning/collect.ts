import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { planOfSources } from '../../core/detect/rule-plan.js';
import type { PlacedHit, SweptWindow } from '../../core/detect/sweep.js';
import type { Event } from '../../core/events/event.js';
import type { EventAt, Replay, ReplayMatch } from '../../core/rules/replay.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import type { ToldMatch } from '../../core/tuning/compare.js';
import type { StudyTask } from '../../core/tuning/study-work.js';
import type { Judgement } from '../../core/tuning/verdicts.js';
import type { Window } from '../../core/wick/plan.js';
import { withWindow } from '../../core/wick/ways/with-window.js';
import { Failure } from '../failure.js';
import type { HuntRunner, RunOptions } from '../hunts/runner.js';
import { detectionsUnder, sourcesOf, type ReadText } from '../rules/reading.js';
import { eventOf, type Replays } from '../rules/replays.js';
import { VERDICTS_OF_EVENTS } from './sql.js';

/** Events that are held of what a rule matches or counts; a rule with more is studied over a shorter time. */
const MAX_STUDIED = 120_000;
/** From so many on it is looked which of them count for nothing, and again after so many more. */
const MANY_HELD = 60_000;
const LOOKED_AGAIN = 20_000;
/** Other events are looked at on so many days, so many each. */
const SAMPLED_DAYS = 10;
const SAMPLED_A_DAY = 200;

/** What a rule text finds over a time. */
export interface Found {
  readonly read: ReadText;
  readonly window: Window;
  /** In order of time, with what was said of each. */
  readonly matches: readonly ToldMatch[];
  /** Events that its rules match or count, by their ids. */
  readonly events: ReadonlyMap<string, Event>;
  readonly hits: readonly PlacedHit<EventAt>[];
  readonly windows: readonly SweptWindow<EventAt>[];
}

/** What was said of events of a rule's alerts, by the events' ids. */
export async function verdictsOfEvents(
  pool: Pool,
  rule: string,
  { from, to }: Window,
): Promise<Map<string, Judgement>> {
  const { rows } = await pool.query<{ event: string; verdict: Judgement | null }>(VERDICTS_OF_EVENTS, [
    rule,
    formatInstant(from),
    formatInstant(to),
  ]);
  return new Map(rows.map(({ event, verdict }) => [event.replaceAll('-', ''), verdict ?? 'unsettled']));
}

const judgedBy =
  (verdicts: ReadonlyMap<string, Judgement>) =>
  (events: readonly EventAt[]): Judgement => {
    let said: Judgement = 'unsettled';
    for (const { id } of events) {
      const one = verdicts.get(id);
      // One real event makes a finding real.
      if (one === 'real') return 'real';
      if (one !== undefined && one !== 'unsettled') said = one;
    }
    return said;
  };

/** An event without its record as it came in: many are held, and handed to a thread. */
function slim(event: Event): Event {
  // Most plans leave it out already.
  if (event.raw === undefined) return event;
  const { raw: _raw, ...rest } = event;
  return rest;
}

const groupKey = (rule: number, group: Readonly<Record<string, string>>): string =>
  `${rule} ${JSON.stringify(Object.values(group))}`;

/** Tells whether what a hit counts for has completed for its group. */
function completedGroups(windows: readonly SweptWindow<EventAt>[]): (hit: PlacedHit<EventAt>) => boolean {
  const groups = new Set(windows.map(({ rule, group }) => groupKey(rule, group)));
  return ({ correlation, group }) => groups.has(groupKey(correlation, group));
}

/** Lets go of events before a moment that were counted for nothing: a cut changes nothing where nothing completed. */
function forgetSpent(replay: Replay, events: Map<string, Event>, before: Instant): void {
  const completed = completedGroups(replay.windows());
  const held = new Set(replay.matched.flatMap((match) => match.events.map(({ id }) => id)));
  for (const hit of replay.counted) if (completed(hit)) held.add(hit.place.id);
  for (const { place } of replay.counted)
    if (place.time < before && !held.has(place.id)) events.delete(place.id);
}

/**
 * Runs the rules of a text over stored time and keeps what they matched.
 * @param tell is told how far it is, 0 to 1, and how many matches there are
 * @throws Failure 422 where they match too much
 */
export async function* findMatches(
  replays: Replays,
  read: ReadText,
  window: Window,
  verdicts: ReadonlyMap<string, Judgement>,
  options: RunOptions,
): AsyncGenerator<{ readonly done: number; readonly matches: number }, Found> {
  const events = new Map<string, Event>();
  let replay: Replay | null = null;
  const judged = judgedBy(verdicts);
  let found: () => readonly ReplayMatch[] = () => [];
  let held = MANY_HELD;
  const spans = read.pack.rules.flatMap((rule) => (rule.type === 'correlation' ? [rule.timespan] : []));
  for await (const { done, size, matches, until } of replays.rules(read, window, options, (rows, of) => {
    replay = of;
    for (const event of rows) events.set(event.id, slim(event));
    if (events.size > MAX_STUDIED)
      throw new Failure(
        'too-loud',
        `More than ${MAX_STUDIED.toLocaleString('en')} events meet this rule over that time. Take a shorter time of proof.`,
      );
  })) {
    // TypeScript does not see that the callback has run.
    const so = replay as Replay | null;
    if (spans.length > 0 && so !== null && events.size > held) {
      forgetSpent(so, events, until - Math.max(...spans));
      held = Math.min(Math.max(MANY_HELD, events.size + LOOKED_AGAIN), MAX_STUDIED - LOOKED_AGAIN);
    }
    found = matches;
    yield { done, matches: size };
  }
  const of = replay as Replay | null;
  const windows = of?.windows() ?? [];
  const completed = completedGroups(windows);
  return {
    read,
    window,
    matches: found()
      .map((match) => ({ ...match, judged: judged(match.events) }))
      .sort((a, b) => a.time - b.time),
    events,
    hits: of?.counted.filter((hit) => completed(hit)) ?? [],
    windows,
  };
}

/** A rule without what cannot be handed to a thread, and is not asked there. */
const bare = (rule: Rule): Rule =>
  rule.type === 'detection' ? { ...rule, predicate: { op: 'always', holds: false } } : rule;

/** The rule of a text that its noise is studied of: the last that tells anything; -1 for none. */
export function studiedRule({ pack, own }: ReadText): number {
  return own.findLast((at) => pack.rules[at]?.settings.onMatch !== 'count') ?? own.at(-1) ?? -1;
}

/** What the search for cuts is given. @param others events of the same shape, as {@link sampleOthers} gives them */
export function studyTask(
  found: Found,
  others: { readonly events: readonly Event[]; readonly factor: number },
): StudyTask {
  const { read, matches, events, hits, windows, window } = found;
  const at = studiedRule(read);
  const rule = read.pack.rules[at];
  const own = matches.filter((match) => match.rule === at);
  const detections = at < 0 ? [] : detectionsUnder(read.pack.rules, at);
  const kinds = new Set([...events.values()].map(({ kind }) => kind ?? null));
  const base = {
    judged: own.map(({ judged }) => judged),
    times: own.map(({ time }) => time),
    subjects: own.map(({ subject }) => subject),
    // Of the same sort: what another sort of event has says nothing of these.
    others: others.events.filter(({ id, kind }) => !events.has(id) && kinds.has(kind ?? null)),
    othersFactor: others.factor,
    asked: detections.flatMap(({ fields }) => fields),
    settings: rule?.settings ?? { onMatch: 'count' as const, quiet: 0, quietPer: 'subject' as const },
    level: rule?.level ?? 'informational',
    window,
  };
  if (rule?.type !== 'correlation')
    return { ...base, events: own.flatMap((match) => events.get(match.events[0]?.id ?? '') ?? []) };
  const places = new Map([...events.keys()].map((id, i) => [id, i]));
  const placeOf = ({ id }: EventAt): number => places.get(id) ?? -1;
  return {
    ...base,
    events: [],
    counted: {
      rules: read.pack.rules.map(bare),
      at,
      hits: hits.map((hit) => ({ ...hit, place: placeOf(hit.place) })),
      events: [...events.values()],
      windows: windows
        .filter((one) => one.rule === at)
        .map((one) => ({ ...one, places: one.places.map(placeOf) })),
    },
  };
}

/** The sources that the rule of a text is asked of. */
export function sourcesOfText(read: ReadText): string[] {
  const at = studiedRule(read);
  const detections = at < 0 ? [] : detectionsUnder(read.pack.rules, at);
  return [...new Set(detections.flatMap((rule) => sourcesOf(rule, read.sources, read.entries)))].sort();
}

/** Events of the sources that a rule is asked of, as a sample over the whole time. */
export async function sampleOthers(
  runner: HuntRunner,
  read: ReadText,
  window: Window,
  now: Instant,
  options: RunOptions,
): Promise<{ readonly events: readonly Event[]; readonly factor: number }> {
  const plan = planOfSources(sourcesOfText(read), window, now);
  const days = Math.max(1, Math.ceil((window.to - window.from) / DAY));
  const step = Math.max(1, Math.floor(days / SAMPLED_DAYS));
  const events: Event[] = [];
  for (let day = 0; day < days; day += step) {
    const from = window.from + day * DAY;
    const { rows } = await runner.table(
      withWindow(plan, { from, to: Math.min(from + DAY, window.to) }),
      SAMPLED_A_DAY,
      options,
    );
    for (const values of rows) events.push(slim(eventOf(plan, values)));
  }
  // One of the sample stands for at least so many: a day holds at least what was taken of it.
  return { events, factor: step };
}
