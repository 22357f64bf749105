import { visibleJson, visibleText } from '../../core/text/visible.js';
import { createWriteStream, type WriteStream } from 'node:fs';
import { join } from 'node:path';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { SweptWindow } from '../../core/detect/sweep.js';
import { csvLine } from '../../core/output/csv.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import type { SweepArguments } from './sweep-arguments.js';

/** Where a record stands: its file, and its number within it, from 1. */
export interface Place {
  readonly file: string;
  readonly line: number;
}

const HEAD = ['rule', 'title', 'level', 'kind', 'file', 'line', 'time', 'group', 'event'];
/** Characters of a value in a table that is not shown in full. */
const SHORT = 100;
/** Written at once. */
const MAX_HELD = 256;

const timeText = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

/** A rule's title as the name of a file. */
const fileNameOf = (rule: Rule, position: number): string =>
  `${
    rule.title
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 60) || 'rule'
  }-${position + 1}.csv`;

/** Writes what a sweep finds to standard output, and to a file for each rule where that is wanted. */
export class SweepOutput {
  private held: string[] = [];
  private readonly files = new Map<Rule, WriteStream>();

  constructor(
    readonly rules: readonly Rule[],
    private readonly asked: Pick<SweepArguments, 'format' | 'out' | 'full'>,
  ) {
    if (asked.format === 'csv') this.held.push(`${csvLine(HEAD)}\r\n`);
  }

  /** @param event the record as JSON */
  match(rule: Rule, { file, line }: Place, time: Instant | null, event: string): void {
    const at = timeText(time);
    this.write(
      rule,
      () =>
        `{"rule":${JSON.stringify(rule.id)},"title":${JSON.stringify(rule.title)},"level":"${rule.level}","file":${JSON.stringify(file)},"line":${line},"time":${JSON.stringify(at)},"event":${event}}\n`,
      [rule.id ?? '', rule.title, rule.level, 'match', file, String(line), at ?? '', '', event],
    );
  }

  window(rule: Rule, { group, time, places }: SweptWindow<Place>): void {
    const completedBy = places.at(-1) ?? { file: '', line: 0 };
    const lines = places.map(({ line }) => line);
    // Where a window reaches over several files, each line's own is told beside.
    const files = places.some(({ file }) => file !== completedBy.file)
      ? { files: places.map(({ file }) => file) }
      : {};
    const told = {
      rule: rule.id,
      title: rule.title,
      level: rule.level,
      kind: 'correlation',
      group,
      time: timeText(time),
      completedBy,
      lines,
      ...files,
    };
    const { file, line } = completedBy;
    this.write(rule, () => `${JSON.stringify(told)}\n`, [
      rule.id ?? '',
      rule.title,
      rule.level,
      'correlation',
      file,
      String(line),
      told.time ?? '',
      JSON.stringify(group),
      JSON.stringify(lines),
    ]);
  }

  private write(rule: Rule, json: () => string, cells: readonly string[]): void {
    switch (this.asked.format) {
      case 'jsonl':
        this.held.push(visibleJson(json()));
        break;
      case 'csv':
        this.held.push(`${csvLine(cells)}\r\n`);
        break;
      case 'table':
        this.held.push(this.tableLine(cells));
        break;
    }
    if (this.asked.out === undefined) return;
    let stream = this.files.get(rule);
    if (stream === undefined) {
      stream = createWriteStream(join(this.asked.out, fileNameOf(rule, this.rules.indexOf(rule))));
      stream.write(`${csvLine(HEAD)}\r\n`);
      this.files.set(rule, stream);
    }
    stream.write(`${csvLine(cells)}\r\n`);
  }

  private tableLine([
    ,
    title = '',
    level = '',
    ,
    file = '',
    line = '',
    time = '',
    group = '',
    event = '',
  ]: readonly string[]): string {
    const shown = group === '' ? event : `${group} ${event}`;
    const short = this.asked.full || shown.length <= SHORT ? shown : `${shown.slice(0, SHORT - 1)}…`;
    return `${visibleText(`${level.padEnd(13)} ${time.padEnd(24)} ${title}  ${file}:${line}  ${short}`)}\n`;
  }

  /** Writes what is held; waits where whoever reads is slow. */
  async flush(all = false): Promise<void> {
    if (this.held.length === 0 || (!all && this.held.length < MAX_HELD)) return;
    const text = this.held.join('');
    this.held = [];
    if (!process.stdout.write(text))
      await new Promise<void>((drained) => process.stdout.once('drain', drained));
  }

  /** Writes the rest and closes the files. */
  async end(): Promise<void> {
    await this.flush(true);
    await Promise.all(
      Array.from(this.files.values(), (stream) => new Promise<void>((closed) => stream.end(() => closed()))),
    );
  }
}
