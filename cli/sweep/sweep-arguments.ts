import { isSeverity, severities, type Severity } from '../../core/events/kinds.js';
import { studyNames, type StudyName } from '../../core/triage/facts.js';
import type { LogSource } from '../../core/sigma/rule-model.js';
import { readWords } from '../read-words.js';
import { UsageError } from '../usage.js';

export const sweepFormats = ['jsonl', 'csv', 'table'] as const;
export type SweepFormat = (typeof sweepFormats)[number];

/** A search without rules. */
export interface Search {
  readonly how: 'find' | 'matching' | 'code';
  readonly what: string;
}

/** What `lamp sweep` was asked to do. */
export interface SweepArguments {
  /** Files and folders of rules. */
  readonly rules: readonly string[];
  readonly searches: readonly Search[];
  readonly events: readonly string[];
  readonly format: SweepFormat;
  /** A folder that takes a CSV file for each rule. */
  readonly out: string | undefined;
  readonly logsource: LogSource | 'any' | undefined;
  readonly recipe: string | undefined;
  /** Matches below this level are left out. */
  readonly level: Severity | undefined;
  readonly summary: string | undefined;
  /** Whole values in tables and in the report, not shortened. */
  readonly full: boolean;
  readonly studies: readonly StudyName[];
  /** A file that takes one page of HTML. */
  readonly report: string | undefined;
}

const LOGSOURCE_PARTS = ['category', 'product', 'service'] as const;
/** Options that take every word up to the next option. */
const MANY: ReadonlySet<string> = new Set(['--rules', '--events']);

/** Writes `--rules a b` as `--rules a --rules b`. */
export function spread(words: readonly string[]): string[] {
  const found: string[] = [];
  let many: string | null = null;
  for (const word of words) {
    if (word.startsWith('--')) {
      const [name = ''] = word.split('=');
      many = MANY.has(name) ? name : null;
      if (many === null || word.includes('=')) found.push(word);
    } else if (many === null) found.push(word);
    else found.push(many, word);
  }
  return found;
}

/** What records are, as `--logsource` says it. @throws UsageError */
export function readLogSource(text: string | undefined): LogSource | 'any' | undefined {
  if (text === undefined || text === 'any') return text;
  const found: Record<string, string> = {};
  for (const pair of text.split(',')) {
    const [name = '', value = ''] = pair.split('=').map((part) => part.trim());
    if (!(LOGSOURCE_PARTS as readonly string[]).includes(name) || value === '')
      throw new UsageError(
        `--logsource: "${pair}" is not category=…, product=… or service=…; or write --logsource any.`,
      );
    found[name] = value.toLowerCase();
  }
  return found;
}

/** Reads the words after `lamp sweep`. @throws UsageError */
export function readSweepArguments(words: readonly string[]): SweepArguments {
  const { values, positionals } = readWords({
    args: spread(words),
    options: {
      rules: { type: 'string', multiple: true, default: [] },
      events: { type: 'string', multiple: true, default: [] },
      format: { type: 'string', default: 'jsonl' },
      out: { type: 'string' },
      logsource: { type: 'string' },
      recipe: { type: 'string' },
      level: { type: 'string' },
      summary: { type: 'string' },
      find: { type: 'string', multiple: true, default: [] },
      matching: { type: 'string', multiple: true, default: [] },
      code: { type: 'string', multiple: true, default: [] },
      full: { type: 'boolean', default: false },
      study: { type: 'string', multiple: true, default: [] },
      report: { type: 'string' },
    },
    allowPositionals: true,
  });
  if (positionals.length > 0)
    throw new UsageError(`"${positionals[0]}" belongs to no option: files stand behind --events or --rules.`);
  const searches = (['find', 'matching', 'code'] as const).flatMap((how) =>
    values[how].map((what): Search => ({ how, what })),
  );
  const studies = studyNames.filter((name) => values.study.includes(name));
  const odd = values.study.find((name) => !(studyNames as readonly string[]).includes(name));
  if (odd !== undefined) throw new UsageError(`--study: "${odd}" is none of ${studyNames.join(', ')}.`);
  if (values.rules.length === 0 && searches.length === 0 && studies.length === 0)
    throw new UsageError('--rules PATH… is missing (or --find, --matching, --code, --study).');
  if (values.events.length === 0) throw new UsageError('--events FILE… or a folder is missing.');
  const format = sweepFormats.find((known) => known === values.format);
  if (format === undefined)
    throw new UsageError(`--format: "${values.format}" is none of ${sweepFormats.join(', ')}.`);
  const { level } = values;
  if (level !== undefined && !isSeverity(level))
    throw new UsageError(`--level: "${level}" is none of ${severities.join(', ')}.`);
  return {
    rules: values.rules,
    searches,
    events: values.events,
    format,
    out: values.out,
    logsource: readLogSource(values.logsource),
    recipe: values.recipe,
    level,
    summary: values.summary,
    full: values.full,
    studies,
    report: values.report,
  };
}
