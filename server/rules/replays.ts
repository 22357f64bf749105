import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { activateRules } from '../../core/detect/active-rules.js';
import { planOfRules } from '../../core/detect/rule-plan.js';
import { subjectReader } from '../../core/detect/subject.js';
import type { Event } from '../../core/events/event.js';
import { judgeHunt, windowOf } from '../../core/rules/hunt-trigger.js';
import { planOfHunt } from '../../core/rules/read-hunt.js';
import { Replay, type ReplayMatch, summarise } from '../../core/rules/replay.js';
import type { DetectionRule, HuntRule } from '../../core/sigma/rule-model.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import type { Plan, Window } from '../../core/wick/plan.js';
import { withWindow } from '../../core/wick/ways/with-window.js';
import type { WireWindow } from '../../core/wire/common.js';
import type { ReplayPicture, RulePreview } from '../../core/wire/replays.js';
import { checksHere } from '../checks/check-here.js';
import type { Checks } from '../checks/checks.js';
import { Failure } from '../failure.js';
import type { HuntRunner, RunOptions } from '../hunts/runner.js';
import { readWindow } from '../hunts/window.js';
import { hashOfText } from './check-rule.js';
import { detectionsUnder, huntLists, type ReadText, type RuleReading } from './reading.js';
import { MAX_ROWS } from './run-hunts.js';
import { lastDue, nextDue } from './schedule.js';
import { requireRight } from './service.js';
import { NOTE_REPLAY } from './sql.js';

/** Matches of a replay, and what correlations count; a rule with more says nothing any more. */
const MAX_MATCHES = 300_000;
/** Between two pictures of a replay that has much to do. */
const PICTURE_MILLISECONDS = 400;
/** Runs of a hunt that are asked for at once: each keeps a connection and a core busy. */
const RUNS_AHEAD = 3;
/** A preview may take so long. */
const PREVIEW_MILLISECONDS = 20_000;
/** Events that are shown while a rule is written. */
const MAX_SHOWN = 25;

export interface Progress {
  readonly done: number;
  readonly read: number;
  readonly until: Instant;
  /** How many matches there are, and what correlations count. */
  readonly size: number;
  /** The matches, reckoned when they are asked for: of correlations that takes a while. */
  readonly matches: () => readonly ReplayMatch[];
}

/** Days of a window, oldest first. */
function daysOf({ from, to }: Window): Window[] {
  const days: Window[] = [];
  for (let start = from; start < to; start += DAY) days.push({ from: start, to: Math.min(start + DAY, to) });
  return days;
}

/**
 * The moments within a window at which a hunt would have run; where its trigger compares it with the run before, the
 * last one before the window comes first.
 */
function* momentsOf({ runs, trigger }: HuntRule, { from, to }: Window): Generator<Instant> {
  const before = trigger.change === null ? null : lastDue(runs, from);
  if (before !== null) yield before;
  for (let due = nextDue(runs, from); due !== null && due <= to; due = nextDue(runs, due)) yield due;
}

/**
 * Works on a few things at once and hands their results out in order. What is under way when one fails, or when
 * nobody wants more, is waited for and dropped.
 */
async function* ahead<T, R>(
  things: Iterable<T>,
  most: number,
  work: (thing: T) => Promise<R>,
): AsyncGenerator<[T, R]> {
  const under: { readonly thing: T; readonly result: Promise<R> }[] = [];
  try {
    for (const thing of things) {
      const result = work(thing);
      // It is told when its turn comes; until then nobody listens.
      result.catch(() => undefined);
      under.push({ thing, result });
      const first = under.length < most ? undefined : under.shift();
      if (first !== undefined) yield [first.thing, await first.result];
    }
    for (const { thing, result } of under) yield [thing, await result];
  } finally {
    await Promise.allSettled(under.map(({ result }) => result));
  }
}

/** The event of a row, without what it has not: of seventy columns an event fills about a quarter. @param values by the plan's columns */
export function eventOf(plan: Plan, values: readonly unknown[]): Event {
  const event: Record<string, unknown> = {};
  for (const [i, { slot }] of plan.columns.entries()) {
    const value = values[i] ?? null;
    if (value !== null) event[slot] = value;
  }
  return event as unknown as Event;
}

/** Runs rules over stored time, as if it were live. */
export class Replays {
  constructor(
    private readonly pool: Pool,
    private readonly runner: HuntRunner,
    private readonly reading: RuleReading,
    private readonly now: () => Instant,
    private readonly checks: Checks = checksHere(pool, now, null),
  ) {}

  /**
   * Replays a rule text; pictures come as it goes on, the last one complete. A complete replay is written down: what
   * was replayed may be switched on.
   * @param id the rule whose text it is or becomes
   * @throws Failure 422 for a text with a mistake, and when it is stopped
   */
  async *run(
    { text, id, window: asked }: { text: string; id?: string; window: WireWindow },
    who: string,
    signal: AbortSignal,
  ): AsyncGenerator<ReplayPicture> {
    const started = performance.now();
    const window = readWindow(asked);
    requireRight(await this.checks.rule(text, id ?? null));
    const read = await this.reading.read(text, id ?? null);
    requireRight(read);
    const options: RunOptions = { purpose: 'screen', signal };
    const picture = ({ done, read: events, until, matches }: Progress, complete: boolean): ReplayPicture => {
      const { days, examples, ...summary } = summarise(matches());
      return {
        done,
        complete,
        read: events,
        until: formatInstant(until),
        ...summary,
        subjects: [...summary.subjects],
        days: days.map(({ day, ...counts }) => ({ day: formatInstant(day), ...counts })),
        examples: examples.map(({ time, subject, events: own, of }) => ({
          of,
          time: formatInstant(time),
          subject,
          events: own.map((event) => ({ id: event.id, time: formatInstant(event.time) })),
        })),
        milliseconds: Math.round(performance.now() - started),
      };
    };
    let last: Progress = { done: 1, read: 0, until: window.to, size: 0, matches: () => [] };
    let shown = started;
    const ways = [
      ...(read.own.length > 0 ? [this.rules(read, window, options)] : []),
      ...read.hunts.map((hunt) => this.hunt(hunt, read, window, text, options)),
    ];
    let matches: readonly ReplayMatch[] = [];
    let events = 0;
    for (const [i, way] of ways.entries()) {
      const earlier = matches;
      for await (const progress of way) {
        if (progress.size > MAX_MATCHES)
          throw new Failure(
            'too-loud',
            `Until ${formatInstant(progress.until)} there are more than ${MAX_MATCHES.toLocaleString('en')} matches: nobody could read them. Add conditions, or replay a shorter time.`,
          );
        last = {
          ...progress,
          done: (i + progress.done) / ways.length,
          read: events + progress.read,
          matches: () => [...earlier, ...progress.matches()],
        };
        if (performance.now() - shown < PICTURE_MILLISECONDS) continue;
        shown = performance.now();
        yield picture(last, false);
      }
      matches = last.matches();
      events = last.read;
    }
    const whole = picture({ ...last, done: 1, until: window.to }, true);
    await this.writeDown(text, who, window, whole);
    yield whole;
  }

  /**
   * Detection rules and correlations over stored events, day by day.
   * @param see is shown the events that rules match or count, as they are read
   */
  async *rules(
    read: ReadText,
    window: Window,
    options: RunOptions,
    see: (events: readonly Event[], replay: Replay) => void = () => undefined,
  ): AsyncGenerator<Progress> {
    const active = activateRules(read.pack, read.homes, read.entries);
    const needed = [...new Set(active.documents.map(({ position }) => position))];
    const detections = needed.flatMap((at): DetectionRule[] => {
      const rule = read.pack.rules[at];
      return rule?.type === 'detection' ? [rule] : [];
    });
    const plan = planOfRules(detections, read.sources, read.entries, window, this.now());
    const replay = new Replay(active);
    const days = daysOf(window);
    let events = 0;
    for (const [i, day] of days.entries()) {
      for await (const rows of this.runner.stream(withWindow(plan, day), options)) {
        const found = rows.map(({ values }) => eventOf(plan, values));
        for (const records of read.sources) {
          const own = found.filter(({ source }) => source === records.source);
          if (own.length > 0) replay.add(own, records);
        }
        see(found, replay);
        events += found.length;
        if (replay.size > MAX_MATCHES) break;
      }
      yield {
        done: (i + 1) / days.length,
        read: events,
        until: day.to,
        size: replay.size,
        matches: () => replay.found(),
      };
    }
  }

  /** A hunt at each moment it would have run, or over all events where it runs live. */
  private async *hunt(
    hunt: HuntRule,
    read: ReadText,
    window: Window,
    text: string,
    options: RunOptions,
  ): AsyncGenerator<Progress> {
    const { lists } = await huntLists(this.pool, text);
    // Rules of the pack and hunts are told apart by numbers of their own.
    const rule = read.pack.rules.length + read.hunts.indexOf(hunt);
    const matches: ReplayMatch[] = [];
    const { settings } = hunt;
    if (hunt.runs.how === 'live') {
      const subjectOf = subjectReader(settings.subject);
      const plan = this.readable(() => planOfHunt(hunt, lists, this.now()));
      const days = daysOf(window);
      for (const [i, day] of days.entries()) {
        for await (const rows of this.runner.stream(withWindow(plan, day), options)) {
          for (const { values } of rows) {
            const event = eventOf(plan, values);
            const { id, time } = event;
            matches.push({ time, subject: subjectOf(event).text, events: [{ id, time }], settings, rule });
          }
          if (matches.length > MAX_MATCHES) break;
        }
        yield {
          done: (i + 1) / days.length,
          read: matches.length,
          until: day.to,
          size: matches.length,
          matches: () => matches,
        };
      }
      return;
    }
    const told = new Map<string, Instant>();
    let before: number | null = null;
    let runs = 0;
    const tables = ahead(momentsOf(hunt, window), RUNS_AHEAD, (due) =>
      this.runner.table(
        this.readable(() => planOfHunt(hunt, lists, due)),
        MAX_ROWS,
        options,
      ),
    );
    for await (const [due, table] of tables) {
      const { measured, matches: found } = judgeHunt(hunt, table, windowOf(hunt, due), before);
      before = measured;
      // It only says what the first is compared with.
      if (due <= window.from) continue;
      runs++;
      for (const { identity, subject, events } of found) {
        if (identity !== null) {
          const last = told.get(identity.text);
          if (last !== undefined && !(identity.passes && last <= due - hunt.over)) continue;
          told.set(identity.text, due);
        }
        matches.push({ time: due, subject: subject.text, events, settings, rule });
      }
      yield {
        done: (due - window.from) / (window.to - window.from),
        read: runs,
        until: due,
        size: matches.length,
        matches: () => matches,
      };
    }
  }

  private readable<T>(work: () => T): T {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof SigmaError)) throw error;
      throw new Failure('bad-rule', `Line ${error.line}: ${error.message}.`, {
        place: { line: error.line, column: 1, end: 1 },
        cause: error,
      });
    }
  }

  private async writeDown(text: string, who: string, window: Window, whole: ReplayPicture): Promise<void> {
    await this.pool.query(NOTE_REPLAY, [
      hashOfText(text),
      who,
      formatInstant(window.from),
      formatInstant(window.to),
      whole.matches,
      whole.alerts,
    ]);
  }

  /** The newest events of the last day that a text's detection rules match. @throws Failure 422 */
  async preview(text: string, id: string | null, signal: AbortSignal): Promise<RulePreview> {
    const started = performance.now();
    requireRight(await this.checks.rule(text, id));
    const read = await this.reading.read(text, id);
    requireRight(read);
    const now = this.now();
    const window = { from: now - DAY, to: now };
    const detections = [...new Set(read.own.flatMap((at) => detectionsUnder(read.pack.rules, at)))];
    const plan = planOfRules(detections, read.sources, read.entries, window, now);
    const { rows } =
      detections.length === 0
        ? { rows: [] }
        : await this.runner.table(plan, MAX_SHOWN + 1, {
            purpose: 'screen',
            milliseconds: PREVIEW_MILLISECONDS,
            signal,
          });
    const active = activateRules(read.pack, read.homes, read.entries);
    return {
      since: formatInstant(window.from),
      until: formatInstant(window.to),
      events: rows.slice(0, MAX_SHOWN).map((row) => {
        const event = eventOf(plan, row);
        const met = active.documents.find(({ matcher }) => matcher.matches(event));
        return {
          id: event.id,
          time: formatInstant(event.time),
          document: read.pack.rules[met?.position ?? -1]?.title ?? '',
          fields: shownFields(event),
        };
      }),
      more: rows.length > MAX_SHOWN,
      milliseconds: Math.round(performance.now() - started),
    };
  }
}

/** What tells an event at a glance. */
function shownFields(event: Event): Record<string, string> {
  const names = ['source', 'operation', 'outcome', 'user', 'host', 'src_ip'] as const;
  return Object.fromEntries(
    names.flatMap((name) => {
      const value = event[name];
      return typeof value === 'string' ? [[name, value]] : [];
    }),
  );
}
