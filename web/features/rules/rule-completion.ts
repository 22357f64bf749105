import type {
  Completion,
  CompletionContext,
  CompletionResult,
  CompletionSource,
} from '@codemirror/autocomplete';
import { listFieldValues } from '../../../core/wire/endpoints/hunts.js';
import { listRuleWords } from '../../../core/wire/endpoints/rules.js';
import type { RuleWordsWire } from '../../../core/wire/rules.js';
import { call } from '../../api/call.js';

const HEAD_KEYS: Readonly<Record<string, string>> = {
  title: 'what it is called',
  id: 'a UUID of its own',
  name: 'what correlations and filters call it',
  status: 'stable, test, experimental',
  description: 'why it matters',
  level: 'how grave a match is',
  tags: 'techniques and tactics',
  falsepositives: 'what harmless things look alike',
  logsource: 'which events it is asked of',
  detection: 'what it looks for',
  correlation: 'counts matches of other rules',
  filter: 'leaves out matches of other rules',
  hunt: 'a hunt that is run again and again',
  lamp: 'what becomes of matches, and tests',
};
const UNDER: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  correlation: {
    type: 'what is reckoned',
    rules: 'the rules whose matches count',
    'group-by': 'the fields that hold a window together',
    timespan: 'how wide a window is, such as 15m',
    condition: 'what the figure must be, such as gte: 6',
    aliases: 'what a field is called in single rules',
    generate: 'true where the rules tell themselves too',
  },
  lamp: {
    'on-match': 'alert, mark without one, or only count',
    owner: 'who looks after it',
    subject: 'the fields that say whom a match is about',
    quiet: 'for so long matches gather in one alert',
    'quiet-per': 'subject, or any',
    levels: 'a severity of their own for some subjects, as in low: [lb-check]',
    actions: 'what goes out with each alert: chat, mail, webhook, syslog, program, tag, list',
    tests: 'events that it must match, or pass over',
    every: 'a hunt runs so often',
    cron: 'a hunt runs by the clock, UTC unless "zone" says otherwise',
    zone: 'the time zone of "cron", such as Europe/Lisbon',
    live: 'a hunt looks at each event as it comes in',
    over: 'how much time a hunt looks at',
    lateness: 'how late records may come in',
    trigger: 'what of the result makes a match',
    tells: 'one match for the run, or one a row',
  },
  trigger: {
    of: 'rows, subjects, sources or column',
    column: 'whose value counts',
    gte: 'at least',
    gt: 'more than',
    lte: 'at most',
    rises: 'more than the run before, such as 50%',
    falls: 'fewer than in the run before',
  },
};
const VALUES: Readonly<Record<string, readonly string[]>> = {
  level: ['informational', 'low', 'medium', 'high', 'critical'],
  status: ['stable', 'test', 'experimental', 'deprecated', 'unsupported'],
  type: [
    'event_count',
    'value_count',
    'value_sum',
    'value_avg',
    'value_median',
    'value_percentile',
    'temporal',
    'temporal_ordered',
  ],
  'on-match': ['alert', 'mark', 'count'],
  does: ['alert', 'mark', 'count'],
  'quiet-per': ['subject', 'any'],
  tells: ['run', 'row'],
  of: ['rows', 'subjects', 'sources', 'column'],
  must: ['match', 'pass'],
};

const option = (label: string, detail = '', more: Partial<Completion> = {}): Completion => ({
  label,
  detail,
  ...more,
});
const described = (words: Readonly<Record<string, string>>, after = ''): Completion[] =>
  Object.entries(words).map(([label, detail]) => option(label, detail, { apply: label + after }));

/** The keys above a line, from the outermost. */
export function keysAbove(lines: readonly string[], at: number): string[] {
  const indentOf = (line: string): number => /^[\s-]*/.exec(line)?.[0].length ?? 0;
  const found: string[] = [];
  let indent = indentOf(lines[at] ?? '');
  for (let i = at - 1; i >= 0 && indent > 0; i--) {
    const line = lines[i] ?? '';
    if (/^---/.test(line)) break;
    const key = /^[\s-]*([\w.-]+)[^:]*:/.exec(line)?.[1];
    if (key === undefined || line.trim().startsWith('#') || indentOf(line) >= indent) continue;
    found.unshift(key);
    indent = indentOf(line);
  }
  return found;
}

/** What may be named in a rule is asked for once, when somebody comes to write. */
let words: Promise<RuleWordsWire> | null = null;
const ruleWords = (): Promise<RuleWordsWire> => {
  words ??= call(listRuleWords, {}).catch((error: unknown) => {
    words = null;
    throw error;
  });
  return words;
};

/** Words for a place in a rule: keys, fields with their modifiers, values seen, techniques, rules and lists. */
export function optionsAt(
  known: RuleWordsWire,
  above: readonly string[],
  before: string,
): { from: number; options: Completion[]; field?: string } | null {
  const start = /^[\s-]*/.exec(before)?.[0].length ?? 0;
  const line = before.slice(start);
  const [top, ...under] = above;
  const from = (pattern: RegExp): number => start + line.length - (pattern.exec(line)?.[0].length ?? 0);
  const colon = line.indexOf(':');
  const inFields =
    (top === 'detection' || top === 'filter') &&
    under.length >= 1 &&
    under[0] !== 'rules' &&
    under[0] !== 'condition';
  if (inFields && colon < 0) {
    const bar = line.lastIndexOf('|');
    if (bar >= 0) return { from: start + bar + 1, options: described(known.modifiers) };
    return { from: start, options: known.fields.map(({ name, meaning }) => option(name, meaning)) };
  }
  if (inFields) {
    const field = line.slice(0, colon).split('|')[0] ?? '';
    if (/\|.*expand/.test(line.slice(0, colon)))
      return { from: from(/[%\w.-]*$/), options: known.lists.map((name) => option(`%${name}%`, 'list')) };
    return { from: from(/[^\s'"[,]*$/), options: [], field };
  }
  if (top === 'tags' || line.startsWith('tags:'))
    return {
      from: from(/[\w.]*$/),
      options: Object.entries(known.techniques).map(([id, meaning]) => option(`attack.${id}`, meaning)),
    };
  if (colon >= 0) {
    const key = line.slice(0, colon);
    const value = from(/[^\s[,]*$/);
    if (top === 'logsource' && (key === 'category' || key === 'product' || key === 'service'))
      return { from: value, options: known.logsources[key].map((word) => option(word)) };
    if (key === 'rules') return { from: value, options: known.rules.map((name) => option(name, 'rule')) };
    const values = VALUES[key];
    return values === undefined ? null : { from: value, options: values.map((word) => option(word)) };
  }
  if (above.at(-1) === 'rules')
    return { from: start, options: known.rules.map((name) => option(name, 'rule')) };
  if (above.length === 0) return { from: start, options: described(HEAD_KEYS, ': ') };
  if (top === 'logsource')
    return {
      from: start,
      options: ['category', 'product', 'service'].map((part) => option(part, '', { apply: `${part}: ` })),
    };
  const keys = UNDER[above.at(-1) ?? ''];
  return keys === undefined ? null : { from: start, options: described(keys, ': ') };
}

/** Completion for rule texts. Values are those seen of late in a canonical field. */
export const completeRule: CompletionSource = async (
  context: CompletionContext,
): Promise<CompletionResult | null> => {
  const line = context.state.doc.lineAt(context.pos);
  const before = line.text.slice(0, context.pos - line.from);
  if (!context.explicit && !/[\w|.%'-]$/.test(before)) return null;
  const lines = context.state.doc.toString().split('\n');
  const above = keysAbove(lines, line.number - 1);
  const known = await ruleWords().catch(() => null);
  const found = known === null ? null : optionsAt(known, above, before);
  if (found === null || context.aborted) return null;
  const { from, field } = found;
  if (field === undefined) return { from: line.from + from, options: found.options, validFor: /^[\w.%-]*$/ };
  const typed = before.slice(from);
  const { values } = await call(listFieldValues, { query: { field, prefix: typed } }).catch(() => ({
    values: [],
  }));
  return {
    from: line.from + from,
    options: values.map(({ value, count }) => option(value, `${count} of late`)),
  };
};
