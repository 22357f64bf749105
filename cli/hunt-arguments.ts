import { parseInstant, type Instant } from '../core/base/instant.js';
import { readWords } from './read-words.js';
import { UsageError } from './usage.js';

export const formats = ['jsonl', 'csv', 'json'] as const;
export type Format = (typeof formats)[number];

/** What `lamp hunt` was asked to do. */
export interface HuntArguments {
  readonly events: string;
  /** By which the records of the file become events; undefined for a file of events. */
  readonly recipe: string | undefined;
  readonly text: string | undefined;
  readonly file: string | undefined;
  readonly from: Instant | undefined;
  readonly to: Instant | undefined;
  readonly now: Instant | undefined;
  readonly format: Format;
  /** Name and file of each list. */
  readonly lists: readonly { readonly name: string; readonly file: string }[];
  /** The file that says what subjects are also called. */
  readonly subjects: string | undefined;
  /** What the blanks of the hunt are filled with, by name. */
  readonly parameters: Readonly<Record<string, string>>;
}

/** Reads a moment that an option gives. @throws UsageError */
export function readTime(name: string, text: string | undefined): Instant | undefined {
  if (text === undefined) return undefined;
  const time = parseInstant(text);
  if (time === null)
    throw new UsageError(
      `--${name}: "${text}" cannot be read as a time. Write ISO 8601, such as 2026-11-14T06:00:00Z.`,
    );
  return time;
}

/** Reads NAME=VALUE. @throws UsageError */
export function readPair(option: string, word: string, shape: string): [string, string] {
  const at = word.indexOf('=');
  if (at < 1) throw new UsageError(`--${option}: "${word}" is not ${shape}.`);
  return [word.slice(0, at), word.slice(at + 1)];
}

/** Reads the words after `lamp hunt`. @throws UsageError */
export function readHuntArguments(words: readonly string[]): HuntArguments {
  const { values } = readWords({
    args: [...words],
    options: {
      events: { type: 'string' },
      recipe: { type: 'string' },
      text: { type: 'string' },
      file: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      now: { type: 'string' },
      format: { type: 'string', default: 'jsonl' },
      list: { type: 'string', multiple: true, default: [] },
      param: { type: 'string', multiple: true, default: [] },
      subjects: { type: 'string' },
    },
  });
  const format = formats.find((known) => known === values.format);
  if (format === undefined)
    throw new UsageError(`--format: "${values.format}" is none of ${formats.join(', ')}.`);
  if (values.events === undefined) throw new UsageError('--events FILE.jsonl is missing.');
  if (values.text !== undefined && values.file !== undefined)
    throw new UsageError('Give the hunt by --text or by --file, not both.');
  const lists = values.list.map((word) => {
    const [name, file] = readPair('list', word, 'NAME=FILE.json');
    return { name, file };
  });
  const parameters = Object.fromEntries(values.param.map((word) => readPair('param', word, 'NAME=VALUE')));
  const from = readTime('from', values.from);
  const to = readTime('to', values.to);
  if (from !== undefined && to !== undefined && to <= from)
    throw new UsageError('--to must be later than --from.');
  return {
    events: values.events,
    recipe: values.recipe,
    text: values.text,
    file: values.file,
    from,
    to,
    now: readTime('now', values.now),
    format,
    lists,
    subjects: values.subjects,
    parameters,
  };
}
