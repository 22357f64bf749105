import type { Pool } from 'pg';
import { planOfSources } from '../../core/detect/rule-plan.js';
import { DAY, type Instant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import { nearestMiss } from '../../core/tuning/nearest-miss.js';
import type { Window } from '../../core/wick/plan.js';
import type { RankedRuleWire, SilentRuleWire } from '../../core/wire/tuning.js';
import type { HuntRunner, RunOptions } from '../hunts/runner.js';
import { absentOf, detectionsUnder, sourcesOf, type RuleReading } from '../rules/reading.js';
import type { Sources } from '../sources/service.js';
import { LISTS_AS_THEY_ARE } from './sql.js';

/** Events of each source that conditions are held against. */
const SAMPLE = 400;
const LIST_NAMED = /%([^%\s]+)%/g;

/** The newest events of each source, to hold conditions against. */
async function samplesOf(
  runner: HuntRunner,
  sources: readonly string[],
  now: Instant,
  options: RunOptions,
): Promise<Map<string, Event[]>> {
  const found = new Map<string, Event[]>();
  for (const source of sources) {
    const plan = planOfSources([source], { from: now - 7 * DAY, to: now }, now);
    const { rows } = await runner.table(plan, SAMPLE, options);
    found.set(
      source,
      rows.map(
        (values) =>
          Object.fromEntries(plan.columns.map(({ slot }, i) => [slot, values[i]])) as unknown as Event,
      ),
    );
  }
  return found;
}

/** Rules that are on and matched nothing, each with the reason. */
export async function silentRules(
  pool: Pool,
  runner: HuntRunner,
  reading: RuleReading,
  sources: Sources,
  ranked: readonly RankedRuleWire[],
  window: Window,
  options: RunOptions,
): Promise<SilentRuleWire[]> {
  const wanted = ranked.filter(({ state, matches }) => state === 'on' && matches === 0);
  if (wanted.length === 0) return [];
  const [{ running, pack, entries, sources: records }, states, { rows: lists }] = await Promise.all([
    reading.all(),
    sources.all(),
    pool.query<{ name: string; rows: number }>(LISTS_AS_THEY_ARE),
  ]);
  const stateOf = new Map(states.map(({ name, state }) => [name, state]));
  const places = new Map(running.map(({ id }, at) => [id, at]));
  const studied = wanted.map((rule) => {
    const file = places.get(rule.id) ?? -1;
    const detections = pack.origins.flatMap((origin, at) =>
      origin.file === file ? detectionsUnder(pack.rules, at) : [],
    );
    const asked = [...new Set(detections.flatMap((one) => sourcesOf(one, records, entries)))];
    return { rule, detections, asked, text: running[file]?.text ?? '' };
  });
  const samples = await samplesOf(
    runner,
    [...new Set(studied.flatMap(({ asked }) => asked))].sort(),
    window.to,
    options,
  );
  return studied.map(({ rule, detections, asked, text }): SilentRuleWire => {
    const told = { id: rule.id, title: rule.title };
    const absent = absentOf(detections, records, entries);
    if (absent !== null) return { ...told, kind: 'source-absent', why: absent };
    const named = [...text.matchAll(LIST_NAMED)].map(([, name = '']) => name);
    const empty = named.find((name) => lists.some((list) => list.name === name && list.rows === 0));
    if (empty !== undefined) return { ...told, kind: 'list-empty', why: `the list ${empty} is empty` };
    const quiet = asked.filter(
      (source) => stateOf.get(source) === 'quiet' || stateOf.get(source) === 'waiting',
    );
    if (asked.length > 0 && quiet.length === asked.length)
      return { ...told, kind: 'source-quiet', why: `${quiet.join(', ')} sent nothing for longer than usual` };
    const events = asked.flatMap((source) => samples.get(source) ?? []);
    const misses = detections.map((one) => nearestMiss(one.predicate, events));
    const [worst] = [...misses].sort((a, b) => a.met / Math.max(1, a.of) - b.met / Math.max(1, b.of));
    const field = misses.find(({ emptyField }) => emptyField !== null)?.emptyField;
    if (field !== undefined && field !== null)
      return { ...told, kind: 'field-empty', why: `no event of ${asked.join(', ')} fills ${field}` };
    if (detections.length === 0) return { ...told, kind: 'nothing-met', why: 'its hunt found nothing' };
    return {
      ...told,
      kind: 'nothing-met',
      why:
        worst === undefined || worst.lacks === null
          ? 'no event meets its conditions'
          : worst.met === worst.of
            ? 'events meet its conditions, but not often enough together'
            : `no event meets its conditions; the nearest meets ${worst.met} of ${worst.of} and lacks: ${worst.lacks}`,
    };
  });
}
