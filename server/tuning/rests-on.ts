import type { Pool } from 'pg';
import { formatDuration, type Instant } from '../../core/base/instant.js';
import type { RuleAction } from '../../core/sigma/actions.js';
import type { Event } from '../../core/events/event.js';
import { fieldLookup } from '../../core/predicate/field-lookup.js';
import { signWords } from '../../core/sigma/describe.js';
import type { CorrelationRule } from '../../core/sigma/rule-model.js';
import type { RestsOn, RestsOnNode } from '../../core/wire/tuning.js';
import { partOfPack } from '../../core/detect/part-of-pack.js';
import { sourcesOf, type ReadText, type RuleReading } from '../rules/reading.js';
import type { Sources } from '../sources/service.js';
import { studiedRule } from './collect.js';
import { LISTS_AS_THEY_ARE } from './sql.js';

const LIST_NAMED = /%([^%\s]+)%/g;
const SECONDS_A_DAY = 86_400;

const rateOf = (perHour: readonly number[]): string => {
  const day = perHour.slice(-24);
  const hours = day.reduce((all, one) => all + one, 0) / Math.max(1, day.length);
  if (hours >= 3600) return `${Math.round(hours / 3600)} a second`;
  if (hours >= 60) return `${Math.round(hours / 60)} a minute`;
  return `${Math.round(hours)} an hour`;
};

const longOf = (seconds: number): string =>
  seconds >= 2 * SECONDS_A_DAY
    ? `${Math.round(seconds / SECONDS_A_DAY)} d`
    : seconds >= 7200
      ? `${Math.round(seconds / 3600)} h`
      : `${Math.round(seconds / 60)} min`;

const ACTION_WORDS: Readonly<Record<RuleAction['do'], string>> = {
  chat: 'tells the chat',
  mail: 'writes a mail',
  webhook: 'calls a webhook',
  syslog: 'sends by syslog',
  program: 'runs a program',
  tag: 'sets a tag',
  list: 'adds to a list',
};

/** What a correlation counts, in few words, such as `at least 12 in 15m, per user`. */
const spanOf = ({ condition, timespan, groupBy }: CorrelationRule): string =>
  [
    `${condition.map(({ sign, count }) => `${signWords[sign]} ${count}`).join(' and ') || 'all'} in ${formatDuration(timespan)}`,
    ...(groupBy.length === 0 ? [] : [`per ${groupBy.map(({ name }) => name).join(', ')}`]),
  ].join(', ');

/** What share of some events fills each of some fields, told where it is less than all. */
function fillOf(fields: readonly string[], events: readonly Event[]): string | null {
  if (events.length === 0) return null;
  const shares = [...new Set(fields)].map((field) => {
    const read = fieldLookup(field);
    return { field, share: events.filter((event) => read(event) !== null).length / events.length };
  });
  const [least] = shares.sort((a, b) => a.share - b.share);
  return least === undefined || least.share > 0.995
    ? null
    : `${least.field} in ${Math.round(least.share * 100)}%`;
}

/** What a rule stands on and what stands on it, left to right: sources, conditions and lists, the rule, what it does. */
export async function restsOn(
  pool: Pool,
  reading: RuleReading,
  sources: Sources,
  id: string,
  read: ReadText,
  text: string,
  sample: readonly Event[],
  now: Instant,
): Promise<RestsOn> {
  const nodes: RestsOnNode[] = [];
  const edges: [string, string][] = [];
  const add = (node: RestsOnNode, ...to: readonly string[]): void => {
    if (!nodes.some((one) => one.id === node.id)) nodes.push(node);
    for (const one of to) edges.push([node.id, one]);
  };
  const at = studiedRule(read);
  const part = at < 0 ? [] : partOfPack(read.pack.rules, at);
  const rule = read.pack.rules[at] ?? read.hunts[0];
  const [states, { rows: lists }, all] = await Promise.all([
    sources.all(),
    pool.query<{ name: string; rows: number; updated: Instant }>(LISTS_AS_THEY_ARE),
    reading.all(),
  ]);
  part.forEach((one, i) => {
    const key = `condition ${i}`;
    if (one.type === 'correlation') {
      add(
        { id: key, column: 'conditions', title: one.title, says: spanOf(one), state: 'well', address: null },
        'rule',
      );
      return;
    }
    const own = sourcesOf(one, read.sources, read.entries);
    const filled = fillOf(
      one.fields,
      sample.filter((event) => own.includes(event.source ?? '')),
    );
    add(
      {
        id: key,
        column: 'conditions',
        title: one.title,
        says: filled ?? one.fields.slice(0, 3).join(', '),
        state: own.length === 0 ? 'absent' : 'well',
        address: null,
      },
      'rule',
    );
    for (const name of own) {
      const state = states.find((source) => source.name === name);
      if (state === undefined) continue;
      add(
        {
          id: `source ${name}`,
          column: 'sources',
          title: name,
          says:
            state.state === 'quiet'
              ? `quiet for ${longOf(state.silentSeconds ?? 0)}`
              : state.state === 'late'
                ? `late, ${rateOf(state.perHour)}`
                : rateOf(state.perHour),
          state:
            state.state === 'quiet'
              ? 'quiet'
              : state.state === 'late'
                ? 'late'
                : state.state === 'waiting'
                  ? 'absent'
                  : 'well',
          address: `/sources/${encodeURIComponent(name)}`,
        },
        key,
      );
    }
  });
  if (read.hunts.length > 0)
    add(
      {
        id: 'hunt',
        column: 'conditions',
        title: 'a hunt',
        says: 'runs by the clock',
        state: 'well',
        address: null,
      },
      'rule',
    );
  for (const name of new Set([...text.matchAll(LIST_NAMED)].map(([, one = '']) => one))) {
    const list = lists.find((one) => one.name === name);
    add(
      {
        id: `list ${name}`,
        column: 'conditions',
        title: name,
        says:
          list === undefined
            ? 'there is no such list'
            : list.rows === 0
              ? 'list is empty'
              : `${list.rows.toLocaleString('en')} rows, changed ${longOf((now - list.updated) / 1e6)} ago`,
        state: list === undefined ? 'absent' : list.rows === 0 ? 'empty' : 'well',
        address: `/lists/${encodeURIComponent(name)}`,
      },
      'rule',
    );
  }
  const settings = rule?.settings;
  add({
    id: 'rule',
    column: 'rule',
    title: rule?.title ?? 'rule',
    says: rule?.level ?? '',
    state: 'well',
    address: `/rules/${id}`,
  });
  const does = (node: string, title: string, says: string, address: string | null): void => {
    add({ id: node, column: 'does', title, says, state: 'well', address });
    edges.push(['rule', node]);
  };
  if (settings?.onMatch === 'alert')
    does('alert', 'raises an alert', rule?.level ?? '', `/alerts?rule=${id}`);
  if (settings?.onMatch === 'mark') does('mark', 'marks its events', 'no alert', null);
  if (settings?.onMatch === 'count') does('count', 'is only counted', 'by other rules', null);
  settings?.actions.forEach((action, i) => {
    does(`action ${i}`, ACTION_WORDS[action.do], action.to, null);
  });
  for (const [i, one] of all.pack.rules.entries()) {
    const origin = all.pack.origins[i];
    const home = origin === undefined ? undefined : all.running[origin.file];
    if (one.type !== 'correlation' || home === undefined || home.id === id) continue;
    const counted = one.refers.some((referred) => {
      const of = all.pack.origins[referred];
      return of !== undefined && all.running[of.file]?.id === id;
    });
    if (counted) does(`feeds ${home.id}`, one.title, 'counts it', `/rules/${home.id}`);
  }
  return { nodes, edges: edges.map(([from, to]) => [from, to]) };
}
