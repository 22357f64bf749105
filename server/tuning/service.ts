import type { Pool } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { planOfReach } from '../../core/detect/rule-plan.js';
import { withCuts, CutError, type CutForm } from '../../core/tuning/apply-cuts.js';
import { compareMatches, countDays, type Comparison, type ToldMatch } from '../../core/tuning/compare.js';
import { predicateOfCut, type Cut } from '../../core/tuning/cut.js';
import { coverageOf, type CoveredTactic } from '../../core/tuning/coverage.js';
import { countJudgements } from '../../core/tuning/verdicts.js';
import { parseNetwork } from '../../core/net/network.js';
import { compilePredicate } from '../../core/predicate/in-memory.js';
import type { Window } from '../../core/wick/plan.js';
import type { WireWindow } from '../../core/wire/common.js';
import type { RuleWire } from '../../core/wire/rules.js';
import type {
  CutWire,
  KeptVersion,
  NoiseRanking,
  SilentRuleWire,
  StudyPiece,
  StudyWire,
} from '../../core/wire/tuning.js';
import type { ProofPiece } from '../../core/wire/tuning-proof.js';
import { configVersions } from '../db/config-versions.js';
import { Failure, invalid, notFound } from '../failure.js';
import type { HuntRunner, RunOptions } from '../hunts/runner.js';
import { readWindow } from '../hunts/window.js';
import type { Lists } from '../lists/service.js';
import { hashOfText } from '../rules/check-rule.js';
import type { Replays } from '../rules/replays.js';
import { requireRight, type Rules } from '../rules/service.js';
import { NOTE_REPLAY } from '../rules/sql.js';
import { detectionsUnder, type ReadText } from '../rules/reading.js';
import type { Sources } from '../sources/service.js';
import {
  findMatches,
  sampleOthers,
  studiedRule,
  studyTask,
  verdictsOfEvents,
  type Found,
} from './collect.js';
import { changesToWire, daysToWire, proposalToWire, targetOf, toldToWire } from './to-wire.js';
import { rankRules, rankSubjects } from './ranking.js';
import { restsOn } from './rests-on.js';
import { silentRules } from './silent.js';
import type { StudyThreads } from './study-threads.js';
import { ADD_PROOF, HOW_RULE_STANDS, KEPT_VERSIONS, LAST_REAL, SETTLED_OF_RULE } from './sql.js';

/** A study or proof may reach over so long a time. */
const MAX_PROOF = 92 * DAY;
/** What a rule found is kept at hand for so long: a proof follows a study. */
const KEPT_MILLISECONDS = 300_000;
const KEPT_RULES = 3;
/** Only after so many days it is told how a kept version did. */
const DAYS_TO_TELL = 7;
/** What a cut hides besides is counted for so long; else a sample tells. */
const COUNT_MILLISECONDS = 8000;

interface RuleRow {
  readonly title: string;
  readonly type: RuleWire['type'];
  readonly version: number;
  readonly text: string;
}

export interface TuningParts {
  readonly pool: Pool;
  readonly runner: HuntRunner;
  readonly rules: Rules;
  readonly replays: Replays;
  readonly sources: Sources;
  readonly lists: Lists;
  readonly threads: StudyThreads;
  readonly now: () => Instant;
}

/** The tuning bench over stored events. */
export class Tuning {
  private readonly kept = new Map<string, { readonly found: Found; readonly until: number }>();

  constructor(private readonly parts: TuningParts) {}

  /** Rules and subjects by noise. */
  async rank(asked: WireWindow): Promise<NoiseRanking> {
    const { pool } = this.parts;
    const window = proofWindow(asked);
    const [rules, subjects] = await Promise.all([rankRules(pool, window), rankSubjects(pool, window)]);
    return { window: { from: formatInstant(window.from), to: formatInstant(window.to) }, rules, subjects };
  }

  /** Rules that matched nothing, with the reason. */
  async silent(asked: WireWindow, signal: AbortSignal): Promise<SilentRuleWire[]> {
    const { pool, runner, rules, sources } = this.parts;
    const window = proofWindow(asked);
    const ranked = await rankRules(pool, window);
    return silentRules(pool, runner, rules.reading, sources, ranked, window, { purpose: 'board', signal });
  }

  /** Techniques by tactic with the rules that look for them. */
  async coverage(): Promise<CoveredTactic[]> {
    const { pool, rules } = this.parts;
    const [all, { running }, { rows }] = await Promise.all([
      rules.all(),
      rules.reading.all(),
      pool.query<{ rule: string; at: Instant }>(LAST_REAL),
    ]);
    const texts = new Map(running.map(({ id, text }) => [id, text]));
    const real = new Map(rows.map(({ rule, at }) => [rule, formatInstant(at)]));
    return coverageOf(
      all
        .filter(({ type }) => type !== 'filter')
        .map(({ id, title, tags, state, onMatch, problem }) => ({
          id,
          title,
          tags,
          state,
          onMatch,
          blind: problem,
          tests: (texts.get(id)?.match(/^\s+(?:- )?must: /gm) ?? []).length,
          lastReal: real.get(id) ?? null,
        })),
    );
  }

  async ruleOf(id: string): Promise<RuleRow> {
    const { rows } = await this.parts.pool.query<RuleRow>(HOW_RULE_STANDS, [id]);
    if (rows[0] === undefined) throw notFound('rule of this id');
    return rows[0];
  }

  /** What a text of a rule finds over a time; at hand for a while. @throws Failure 422 */
  private async *find(
    id: string,
    text: string,
    window: Window,
    options: RunOptions,
  ): AsyncGenerator<{ done: number; matches: number }, Found> {
    const { pool, replays, rules } = this.parts;
    const read = await rules.reading.read(text, id);
    requireRight(read);
    // What rules find hangs on lists, log sources and other rules, too.
    const { rules: rulesAt, sources: sourcesAt } = await configVersions(pool);
    const key = `${id} ${hashOfText(text).toString('hex')} ${window.from} ${window.to} ${rulesAt} ${sourcesAt}`;
    const known = this.atHand(key);
    // Verdicts change; what is found of events does not, within so short a time.
    const verdicts = await verdictsOfEvents(pool, id, window);
    if (known !== undefined) return { ...known, matches: judgedAnew(known.matches, verdicts) };
    const found = yield* findMatches(replays, read, window, verdicts, options);
    this.kept.set(key, { found, until: performance.now() + KEPT_MILLISECONDS });
    for (const oldest of [...this.kept.keys()].slice(0, -KEPT_RULES)) this.kept.delete(oldest);
    return found;
  }

  private atHand(key: string): Found | undefined {
    for (const [one, { until }] of this.kept) if (until < performance.now()) this.kept.delete(one);
    return this.kept.get(key)?.found;
  }

  /**
   * Studies a rule: where its noise comes from, what it rests on, cuts with proof, and what was settled before.
   * @throws Failure 404, 422
   */
  async *study(id: string, asked: WireWindow, signal: AbortSignal): AsyncGenerator<StudyPiece> {
    const started = performance.now();
    const { pool, runner, rules, sources, threads, now } = this.parts;
    const window = proofWindow(asked);
    const rule = await this.ruleOf(id);
    const options: RunOptions = { purpose: 'screen', signal };
    let found: Found;
    const looking = this.find(id, rule.text, window, options);
    for (let step = await looking.next(); ; step = await looking.next()) {
      if (step.done === true) {
        found = step.value;
        break;
      }
      yield { piece: 'progress', done: step.value.done * 0.8, matches: step.value.matches };
    }
    const others = await sampleOthers(runner, found.read, window, now(), { purpose: 'board', signal });
    const at = studiedRule(found.read);
    const tunable = at >= 0;
    const own = found.matches.filter((match) => match.rule === at);
    const { origins, proposals, changes } = tunable
      ? await threads.run(studyTask(found, others))
      : { origins: [], proposals: [], changes: [] };
    const [graph, before, kept] = await Promise.all([
      restsOn(pool, rules.reading, sources, id, found.read, rule.text, others.events, now()),
      this.settledBefore(id),
      this.keptVersions(id),
    ]);
    const target = targetOf(found.read, at);
    const all = compareMatches(own, own);
    yield {
      piece: 'study',
      matches: own.length,
      alerts: all.before.alerts,
      judged: countJudgements(own.map(({ judged }) => judged)),
      days: daysToWire(countDays(own)),
      origins: origins.map((one) => ({ ...one, values: [...one.values] })),
      restsOn: graph,
      proposals: proposals.map((one) => proposalToWire(one, own, target)),
      changes: changesToWire(changes, rule.text, found.read.pack.rules[at]),
      before,
      kept,
      version: rule.version,
      tunable,
      note: tunable
        ? own.length > 0 && own.every(({ judged }) => judged === 'unsettled')
          ? 'Nothing of it is settled: proposals are only what is common.'
          : null
        : 'A hunt by the clock is changed in its own steps: nothing is proposed for it.',
      milliseconds: Math.round(performance.now() - started),
    };
  }

  private async settledBefore(id: string): Promise<StudyWire['before']> {
    const { rows } = await this.parts.pool.query<{
      id: number;
      subject: string;
      verdict: string | null;
      reason: string | null;
      owner: string | null;
      updated: Instant;
    }>(SETTLED_OF_RULE, [id]);
    return rows.map(({ id: alert, updated, ...row }) => ({ alert, ...row, at: formatInstant(updated) }));
  }

  private async keptVersions(id: string): Promise<KeptVersion[]> {
    const { rows } = await this.parts.pool.query<{
      version: number;
      created: Instant;
      author: string;
      why: string;
      since: Instant;
      proved_until: Instant;
      matches_before: number;
      matches_after: number;
      alerts_before: number;
      alerts_after: number;
      real_kept: number;
      real_lost: number;
      days: number;
      alerts: number;
      matches: number;
    }>(KEPT_VERSIONS, [id]);
    return rows.map((row) => {
      const days = Math.max(1, (row.proved_until - row.since) / DAY);
      const lived = Number(row.days);
      return {
        version: row.version,
        at: formatInstant(row.created),
        author: row.author,
        why: row.why,
        expected: {
          alertsBefore: row.alerts_before / days,
          alertsAfter: row.alerts_after / days,
          matchesBefore: row.matches_before / days,
          matchesAfter: row.matches_after / days,
          realKept: row.real_kept,
          realLost: row.real_lost,
        },
        actual:
          lived < DAYS_TO_TELL
            ? null
            : { days: lived, alerts: row.alerts / lived, matches: row.matches / lived },
      };
    });
  }

  /**
   * Replays a changed rule beside the present one; that it was is written down with what it came to.
   * @throws Failure 404, 422
   */
  async *prove(
    id: string,
    asked: { window: WireWindow; text?: string; cuts?: readonly CutWire[]; form?: CutForm },
    person: string,
    signal: AbortSignal,
    list?: string,
  ): AsyncGenerator<ProofPiece> {
    const started = performance.now();
    const window = proofWindow(asked.window);
    const rule = await this.ruleOf(id);
    const options: RunOptions = { purpose: 'screen', signal };
    const found: Found[] = [];
    let reach: ReturnType<Tuning['reachOf']> | null = null;
    let text = asked.text ?? '';
    // What cannot be read is refused before anything is replayed.
    if (asked.text !== undefined) requireRight(await this.parts.rules.reading.read(asked.text, id));
    readableCuts(asked.cuts ?? []);
    for (const side of ['before', 'after'] as const) {
      if (side === 'after' && asked.text === undefined)
        text = this.changedText(
          rule,
          found[0]?.read ?? null,
          asked.cuts ?? [],
          asked.form ?? 'condition',
          list,
        );
      if (side === 'after' && asked.text === undefined && found[0] !== undefined) {
        reach = this.reachOf(found[0], asked.cuts ?? [], signal);
        // It is told at the end; until then nobody listens.
        reach.catch(() => undefined);
      }
      const looking = this.find(id, side === 'before' ? rule.text : text, window, options);
      for (let step = await looking.next(); ; step = await looking.next()) {
        if (step.done === true) {
          found.push(step.value);
          break;
        }
        yield {
          piece: 'progress',
          done: (side === 'before' ? 0 : 0.5) + step.value.done / 2,
          matches: step.value.matches,
        };
      }
    }
    const [before, after] = found;
    if (before === undefined || after === undefined) return;
    const at = studiedRule(before.read);
    const own = before.matches.filter((match) => match.rule === at);
    const later = after.matches.filter((match) => match.rule === studiedRule(after.read));
    const compared = compareMatches(own, later);
    await this.writeDown(id, text, person, window, compared);
    yield {
      piece: 'proof',
      text,
      before: { ...compared.before, days: daysToWire(compared.before.days) },
      after: { ...compared.after, days: daysToWire(compared.after.days) },
      lost: toldToWire(compared.lost),
      added: toldToWire(compared.added),
      realKept: toldToWire(compared.realKept),
      realLost: toldToWire(compared.realLost),
      unsettledLost: toldToWire(compared.unsettledLost),
      lostTotal: compared.lost.length,
      addedTotal: compared.added.length,
      unsettledTotal: compared.unsettledLost.length,
      ...((await reach) ?? { reach: null, reachCounted: true }),
      milliseconds: Math.round(performance.now() - started),
    };
  }

  private changedText(
    rule: RuleRow,
    read: ReadText | null,
    cuts: readonly CutWire[],
    form: CutForm,
    list = '',
  ): string {
    if (read === null) return rule.text;
    try {
      return withCuts(rule.text, cuts, form, targetOf(read, studiedRule(read)), list);
    } catch (error) {
      if (!(error instanceof CutError)) throw error;
      throw new Failure('bad-cut', `This cut cannot be written down: ${error.message}.`, { cause: error });
    }
  }

  /** Events besides that cuts would hide: counted, or reckoned up from a sample where counting takes too long. */
  private async reachOf(
    { read, events, window }: Found,
    cuts: readonly Cut[],
    signal: AbortSignal,
  ): Promise<{ readonly reach: number; readonly reachCounted: boolean }> {
    const { runner, now } = this.parts;
    const at = studiedRule(read);
    const rules = at < 0 ? [] : detectionsUnder(read.pack.rules, at);
    const asked = cuts.map(predicateOfCut);
    const plan = planOfReach(rules, asked, read.sources, read.entries, window, now());
    try {
      const { rows } = await runner.table(plan, 1, {
        purpose: 'board',
        signal,
        milliseconds: COUNT_MILLISECONDS,
      });
      return { reach: Number(rows[0]?.[0] ?? 0), reachCounted: true };
    } catch (error) {
      if (!(error instanceof Failure) || error.code !== 'too-slow') throw error;
    }
    const others = await sampleOthers(runner, read, window, now(), { purpose: 'board', signal });
    const tests = asked.map((one) => compilePredicate(one));
    const hidden = others.events.filter(
      (event) => !events.has(event.id) && tests.some((meets) => meets(event)),
    );
    return { reach: hidden.length * others.factor, reachCounted: false };
  }

  private async writeDown(
    id: string,
    text: string,
    who: string,
    window: Window,
    compared: Comparison,
  ): Promise<void> {
    const { pool } = this.parts;
    const { before, after } = compared;
    const times = [formatInstant(window.from), formatInstant(window.to)];
    const hash = hashOfText(text);
    await pool.query(ADD_PROOF, [
      id,
      hash,
      who,
      ...times,
      before.matches,
      after.matches,
      before.alerts,
      after.alerts,
      compared.realKept.length,
      compared.realLost.length,
    ]);
    // A proof is a replay: what was proved may be switched on.
    await pool.query(NOTE_REPLAY, [hash, who, ...times, after.matches, after.alerts]);
  }
}

function proofWindow(asked: WireWindow): Window {
  const window = readWindow(asked);
  if (window.to - window.from > MAX_PROOF)
    throw invalid(`At most ${MAX_PROOF / DAY} days are looked at. Take a shorter time.`);
  return window;
}

/** @throws Failure 422 for a network that is none */
function readableCuts(cuts: readonly Cut[]): void {
  for (const { all } of cuts)
    for (const { op, field, value } of all) {
      if (op === 'within' && parseNetwork(value ?? '') === null)
        throw new Failure('bad-cut', `"${value ?? ''}" is no network such as 10.0.0.0/8.`);
      if (field.includes('|'))
        throw new Failure('bad-cut', `"${field}" is no field: leave out what follows "|".`);
    }
}

function judgedAnew(
  matches: readonly ToldMatch[],
  verdicts: Awaited<ReturnType<typeof verdictsOfEvents>>,
): ToldMatch[] {
  return matches.map((match) => {
    const said = match.events.map(({ id }) => verdicts.get(id) ?? 'unsettled');
    const judged = said.includes('real')
      ? 'real'
      : (said.findLast((one) => one !== 'unsettled') ?? 'unsettled');
    return { ...match, judged };
  });
}
