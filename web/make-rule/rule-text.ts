import type { Json } from '../../core/base/json.js';
import { escapeWildcards } from '../../core/text/wildcard.js';

// Rules as text, made from what somebody looks at. They are drafts: names and counts are for their author to put right.

/** A text as YAML, in single quotes. */
const quoted = (text: string): string =>
  /[\n\r\t]/.test(text) ? JSON.stringify(text) : `'${text.replaceAll("'", "''")}'`;

/** A value that a rule looks for as it stands: characters that would be wildcards are escaped. */
const literal = (value: Json): string =>
  typeof value === 'string'
    ? quoted(escapeWildcards(value))
    : typeof value === 'object'
      ? quoted(JSON.stringify(value))
      : String(value);

/** Spaces before each line of a block of text. */
const block = (text: string): string =>
  text
    .trimEnd()
    .split('\n')
    .map((line) => `  ${line}`)
    .join('\n');

/** Steps that judge each event by itself, so that a hunt of them can look at events as they come in. */
const BY_EVENT = /^(from|where|set|read|look)\b/i;

/** A hunt as a rule: as it happens where it only picks events, else every quarter of an hour. */
export function ruleOfHunt(hunt: string): string {
  const steps = hunt.split('\n').filter((line) => /^\w/.test(line));
  const live = steps.every((line) => BY_EVENT.test(line)) && !/\bover\b/i.test(steps[0] ?? '');
  const lamp = live
    ? '  live: true\n'
    : '  every: 15m\n  over: 24h\n  lateness: 5m\n  trigger: { of: rows, gte: 1 }\n  tells: row\n';
  return `title: Name what this hunt finds\nstatus: experimental\nlevel: medium\ndescription: Why it matters, and what to do about it.\ntags: []\nfalsepositives: []\nhunt: |\n${block(hunt)}\nlamp:\n${lamp}`;
}

/** A field with the value it is to have; names of ours or of the source's own with dots. */
export interface ChosenField {
  readonly name: string;
  readonly value: Json;
}

const head = (title: string, logsource: string): string =>
  `title: ${title}\nstatus: experimental\nlevel: medium\ndescription: Why it matters, and what to do about it.\ntags: []\nfalsepositives: []\nlogsource: ${logsource}\n`;

/** Fields as they stand in a selection. @param indent spaces before each */
const lines = (fields: readonly ChosenField[], indent: string): string =>
  fields
    .map(({ name, value }) => `${indent}${/^[\w.-]+$/.test(name) ? name : quoted(name)}: ${literal(value)}\n`)
    .join('');

/** A rule that asks for some fields of an event, with the event as its test. */
export function ruleOfEvent(fields: readonly ChosenField[], event: Readonly<Record<string, Json>>): string {
  const kept = Object.fromEntries(
    Object.entries(event).filter(
      ([name, value]) => value !== null && !['id', 'received', 'raw', 'explained', 'marked'].includes(name),
    ),
  );
  return `${head('Name what these fields mean', '{}')}detection:\n  selection:\n${lines(fields, '    ')}  condition: selection\nlamp:\n  tests:\n    - name: the event it was made from\n      must: match\n      event: ${JSON.stringify(kept)}\n`;
}

/** A rule that asks for one value. */
export const ruleOfValue = (field: ChosenField): string =>
  `${head('Name what this value means', '{}')}detection:\n  selection:\n${lines([field], '    ')}  condition: selection\n`;

/** What a new rule begins as: a small rule that is right. */
export const NEW_RULE = `${head('A name for the rule', '\n  category: authentication').replace('logsource: \n', 'logsource:\n')}detection:
  selection:
    kind: signin
    outcome: failure
    user: someone
  condition: selection
lamp:
  tests:
    - name: a sign-in of someone that fails
      must: match
      event: { kind: signin, outcome: failure, user: someone }
`;

/** How a page hands a text to the page of a new rule. */
export interface NewRuleState {
  readonly ruleText: string;
}
