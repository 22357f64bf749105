import { zoneName } from '../text/zones.js';
import { cronMistake } from '../text/cron.js';
import { HOUR, MINUTE, parseDuration } from '../base/instant.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { nearestWord } from '../base/text-distance.js';
import { severities } from '../events/kinds.js';
import { readActions } from './actions.js';
import { jsonToText } from '../text/json-text.js';
import type { RawDocument } from './open-documents.js';
import {
  triggerSubjects,
  type CountSign,
  type Head,
  type HuntRule,
  type HuntRuns,
  type HuntTrigger,
  type LevelOf,
  type RuleSettings,
  type RuleTest,
} from './rule-model.js';

// The part of a document that is ours: the key `lamp`, and `hunt` in place of a detection.

/** Other spellings of what a match leads to, which rules may have. */
const ALIASES: ReadonlySet<string> = new Set(['does', 'onMatch']);
const SETTINGS = [
  'on-match',
  'owner',
  'subject',
  'quiet',
  'quiet-per',
  'levels',
  'actions',
  'tests',
] as const;
const HUNT_SETTINGS = ['live', 'every', 'cron', 'zone', 'over', 'lateness', 'trigger', 'tells'] as const;
const SIGNS: readonly CountSign[] = ['gt', 'gte', 'lt', 'lte', 'eq', 'neq'];
const CHANGE = /^(\d+(?:\.\d+)?)\s*(%?)$/;

const shown = (value: Json | undefined): string => jsonToText(value ?? null) ?? '';

/** What holds where a rule says nothing. */
export const plainSettings: RuleSettings = {
  onMatch: 'alert',
  owner: null,
  subject: null,
  quiet: 0,
  quietPer: 'subject',
  levels: [],
  actions: [],
  tests: [],
};

function sectionOf({ value, refuse }: RawDocument): JsonObject {
  const section = value['lamp'];
  if (section === undefined || section === null) return {};
  if (!isJsonObject(section))
    return refuse(['lamp'], '"lamp" is a map of settings such as on-match, quiet and tests');
  const known = [...SETTINGS, ...(value['hunt'] === undefined ? [] : HUNT_SETTINGS)];
  for (const key of Object.keys(section))
    if (!ALIASES.has(key) && !(known as readonly string[]).includes(key)) {
      const nearest = nearestWord(key, known);
      refuse(
        ['lamp', key],
        `"${key}" is no setting${nearest === undefined ? `: use ${known.join(', ')}` : `. Did you mean "${nearest}"?`}`,
      );
    }
  return section;
}

/** What a match leads to, by whichever of its spellings the rule has. @throws SigmaError for two of them */
function onMatchOf(document: RawDocument, section: JsonObject): RuleSettings['onMatch'] {
  const [key = 'on-match', second] = Object.keys(section).filter(
    (name) => name === 'on-match' || ALIASES.has(name),
  );
  if (second !== undefined)
    document.refuse(['lamp', second], `"${key}" says the same: leave one of them out`);
  return oneOf(document, section, key, ['alert', 'mark', 'count'], 'alert');
}

function oneOf<T extends string>(
  { refuse }: RawDocument,
  section: JsonObject,
  key: string,
  words: readonly T[],
  usual: T,
): T {
  const value = section[key];
  if (value === undefined) return usual;
  const found = words.find((word) => word === value);
  return found ?? refuse(['lamp', key], `"${shown(value)}" is not possible here: use ${words.join(' or ')}`);
}

function durationOf({ refuse }: RawDocument, section: JsonObject, key: string, usual: number): number {
  const value = section[key];
  if (value === undefined) return usual;
  const micros = typeof value === 'string' ? parseDuration(value) : value === 0 ? 0 : null;
  return micros ?? refuse(['lamp', key], `"${shown(value)}" is no span of time such as 15m, 2h or 7d`);
}

const textsOf = (value: Json | undefined): string[] | null => {
  const all = value === undefined ? [] : Array.isArray(value) ? (value as readonly Json[]) : [value];
  return all.every((one) => typeof one === 'string') ? (all as string[]) : null;
};

/** Subjects with a severity of their own that a rule may name. */
const MAX_LEVELLED = 500;

function readLevels({ refuse }: RawDocument, section: JsonObject): LevelOf[] {
  const levels = section['levels'] ?? {};
  if (!isJsonObject(levels)) return refuse(['lamp', 'levels'], '"levels" is a map, such as low: [lb-check]');
  const found = Object.entries(levels).map(([word, subjects]): LevelOf => {
    const level = severities.find((one) => one === word);
    if (level === undefined)
      return refuse(['lamp', 'levels', word], `"${word}" is no severity: use ${severities.join(', ')}`);
    const of = textsOf(subjects);
    if (of === null || of.length === 0)
      return refuse(['lamp', 'levels', word], 'here stand the subjects of this severity, as texts');
    return { level, of };
  });
  if (found.reduce((sum, { of }) => sum + of.length, 0) > MAX_LEVELLED)
    refuse(['lamp', 'levels'], `at most ${MAX_LEVELLED} subjects have a severity of their own`);
  return found;
}

function readTests({ refuse, lineOf }: RawDocument, section: JsonObject): RuleTest[] {
  const tests = section['tests'] ?? [];
  if (!Array.isArray(tests)) return refuse(['lamp', 'tests'], '"tests" is a list');
  return (tests as readonly Json[]).map((test, i) => {
    const path = ['lamp', 'tests', i];
    if (!isJsonObject(test)) return refuse(path, 'a test says what it "must" do, and its "events"');
    const { must, name, event, events = event } = test;
    if (must !== 'match' && must !== 'pass') return refuse([...path, 'must'], '"must" is match or pass');
    const all = Array.isArray(events) ? (events as readonly Json[]) : [events];
    const given = all.map((one) =>
      isJsonObject(one ?? null)
        ? (one as JsonObject)
        : refuse([...path, 'events'], 'an event is a map of fields'),
    );
    if (given.length === 0) refuse([...path, 'events'], 'a test needs an event');
    const repeated = given.flatMap((one) => {
      const { times = 1, ...fields } = one;
      if (typeof times !== 'number' || times < 1 || times > 1000)
        return refuse([...path, 'events'], '"times" is a number from 1 to 1,000');
      return Array.from({ length: times }, () => fields);
    });
    return {
      name: typeof name === 'string' ? name : `${must === 'match' ? 'matches' : 'passes over'} ${i + 1}`,
      must,
      events: repeated,
      line: lineOf(path),
    };
  });
}

/** Reads the settings of a document. @throws SigmaError with the line */
export function readSettings(document: RawDocument): RuleSettings {
  const section = sectionOf(document);
  const subject = section['subject'] === undefined ? null : textsOf(section['subject']);
  if (subject === null && section['subject'] !== undefined)
    document.refuse(['lamp', 'subject'], '"subject" is a list of fields');
  const owner = section['owner'] ?? null;
  if (owner !== null && typeof owner !== 'string') document.refuse(['lamp', 'owner'], '"owner" is a name');
  return {
    onMatch: onMatchOf(document, section),
    owner: typeof owner === 'string' ? owner : null,
    subject,
    quiet: durationOf(document, section, 'quiet', plainSettings.quiet),
    quietPer: oneOf(document, section, 'quiet-per', ['subject', 'any'], 'subject'),
    levels: readLevels(document, section),
    actions: readActions(document, section),
    tests: readTests(document, section),
  };
}

function readRuns(document: RawDocument, section: JsonObject): HuntRuns {
  const { live, cron, zone } = section;
  const given = Object.keys(section).filter((key) => ['live', 'every', 'cron'].includes(key));
  if (given.length > 1)
    document.refuse(['lamp', given[1] ?? ''], `a hunt runs one way: take away one of ${given.join(', ')}`);
  if (zone !== undefined && cron === undefined)
    document.refuse(['lamp', 'zone'], '"zone" is that of "cron": spans are the same in every zone');
  if (live !== undefined) {
    if (live !== true) document.refuse(['lamp', 'live'], '"live" is true, or left out');
    return { how: 'live' };
  }
  if (cron !== undefined) {
    const expression = typeof cron === 'string' ? cron.trim() : '';
    const mistake = cronMistake(expression);
    if (mistake !== null) document.refuse(['lamp', 'cron'], mistake);
    const named = zone === undefined ? 'UTC' : zoneName(shown(zone));
    if (named === null)
      document.refuse(
        ['lamp', 'zone'],
        `"${shown(zone)}" is no time zone: write one such as Europe/Lisbon, or UTC`,
      );
    return { how: 'cron', expression, zone: named };
  }
  const micros = durationOf(document, section, 'every', 15 * MINUTE);
  if (micros < MINUTE) document.refuse(['lamp', 'every'], 'a hunt runs once a minute at most');
  return { how: 'every', micros };
}

function readChange(document: RawDocument, trigger: JsonObject): HuntTrigger['change'] {
  for (const way of ['rises', 'falls'] as const) {
    const value = trigger[way];
    if (value === undefined) continue;
    const match = CHANGE.exec(shown(value));
    if (match === null)
      return document.refuse(['lamp', 'trigger', way], `"${way}" is a number, or per cent such as 50%`);
    return { way, by: Number(match[1]), unit: match[2] === '%' ? '%' : 'count' };
  }
  return null;
}

function readTrigger(document: RawDocument, section: JsonObject): HuntTrigger {
  const trigger = section['trigger'];
  const always: HuntTrigger = {
    of: 'rows',
    column: null,
    condition: [{ sign: 'gte', count: 1 }],
    change: null,
  };
  if (trigger === undefined) return always;
  const path = ['lamp', 'trigger'];
  if (!isJsonObject(trigger)) return document.refuse(path, '"trigger" is a map, such as of: rows and gte: 1');
  for (const key of Object.keys(trigger))
    if (!['of', 'column', 'rises', 'falls', ...SIGNS].includes(key))
      document.refuse(
        [...path, key],
        `"${key}" is no part of a trigger: use of, column, ${SIGNS.join(', ')}, rises, falls`,
      );
  const of = triggerSubjects.find((word) => word === (trigger['of'] ?? 'rows'));
  if (of === undefined)
    return document.refuse(
      [...path, 'of'],
      `"${shown(trigger['of'])}" is nothing to measure: use ${triggerSubjects.join(', ')}`,
    );
  const column = typeof trigger['column'] === 'string' ? trigger['column'] : null;
  if (of === 'column' && column === null)
    document.refuse([...path, 'of'], 'name the "column" whose value counts');
  const condition = SIGNS.flatMap((sign) => {
    const count = trigger[sign];
    if (count === undefined) return [];
    return typeof count === 'number'
      ? [{ sign, count }]
      : document.refuse([...path, sign], `"${sign}" needs a number`);
  });
  const change = readChange(document, trigger);
  if (change !== null && of === 'column')
    document.refuse([...path, change.way], 'rise and fall are measured of rows, subjects or sources');
  return {
    of,
    column,
    condition: condition.length === 0 && change === null ? always.condition : condition,
    change,
  };
}

/** Reads a hunt that is a rule. @throws SigmaError with the line */
export function readHuntRule(document: RawDocument, head: Head): HuntRule {
  const { value, refuse, lineOf, valueLineOf } = document;
  const hunt = value['hunt'];
  if (typeof hunt !== 'string' || hunt.trim() === '')
    return refuse(['hunt'], '"hunt" is the text of a hunt, its steps line by line');
  const section = sectionOf(document);
  const runs = readRuns(document, section);
  const trigger = readTrigger(document, section);
  if (runs.how === 'live' && section['trigger'] !== undefined)
    refuse(['lamp', 'trigger'], 'a hunt that runs live tells every event: leave "trigger" out');
  const tells = oneOf(
    document,
    section,
    'tells',
    ['run', 'row'],
    trigger.of === 'column' || runs.how === 'live' ? 'row' : 'run',
  );
  return {
    ...head,
    type: 'hunt',
    hunt,
    huntLine: valueLineOf(['hunt']) ?? lineOf(['hunt']),
    runs,
    over: durationOf(document, section, 'over', runs.how === 'every' ? runs.micros : HOUR),
    lateness: durationOf(document, section, 'lateness', 0),
    trigger,
    tells,
  };
}
