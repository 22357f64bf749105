import { visibleJson, visibleText } from '../../core/text/visible.js';
import { createWriteStream, writeFileSync, type WriteStream } from 'node:fs';
import { join } from 'node:path';
import type { Json } from '../../core/base/json.js';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { SweptWindow } from '../../core/detect/sweep.js';
import { csvLine } from '../../core/output/csv.js';
import type { Rule } from '../../core/sigma/rule-model.js';
import type { Place, StudyTable } from '../../core/triage/facts.js';
import type { SweepArguments } from './sweep-arguments.js';

const HEAD = ['rule', 'title', 'level', 'kind', 'file', 'line', 'time', 'group', 'event'];
/** Characters of a value in a table that is not shown in full. */
const SHORT = 100;
/** Written at once. */
const MAX_HELD = 256;

const cellText = (value: Json): string =>
  value === null ? '' : typeof value === 'string' ? value : JSON.stringify(value);

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
  private wrote = false;
  private readonly files = new Map<Rule, WriteStream>();

  constructor(
    readonly rules: readonly Rule[],
    private readonly asked: Pick<SweepArguments, 'format' | 'out' | 'full' | 'studies'>,
  ) {
    if (asked.format === 'csv' && rules.length > 0) this.held.push(`${csvLine(HEAD)}\r\n`);
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

  /** A study: a line for each of its rows; as CSV under a heading of its own, and in a file of its own. */
  study({ study, title, columns, rows }: StudyTable): void {
    const csv = (row: readonly Json[]): string => `${csvLine(row.map(cellText))}\r\n`;
    switch (this.asked.format) {
      case 'jsonl':
        for (const row of rows)
          this.held.push(
            `${visibleJson(JSON.stringify({ study, ...Object.fromEntries(columns.map((name, i) => [name, row[i]])) }))}\n`,
          );
        break;
      case 'csv':
        // A second table in one text has a line between.
        if (this.held.length > 0 || this.wrote) this.held.push('\r\n');
        this.held.push(csv(columns), ...rows.map(csv));
        break;
      case 'table': {
        const shown = rows.map((row) => row.map((value) => this.short(cellText(value))));
        const widths = columns.map((name, i) =>
          Math.min(48, Math.max(name.length, ...shown.map((row) => row[i]?.length ?? 0))),
        );
        const line = (cells: readonly string[]): string =>
          `${visibleText(cells.map((cell, i) => cell.padEnd(widths[i] ?? 0)).join('  ')).trimEnd()}\n`;
        this.held.push(`\n${title}\n`, line(columns), ...shown.map(line));
        break;
      }
    }
    if (this.asked.out !== undefined)
      writeFileSync(join(this.asked.out, `study-${study}.csv`), [csv(columns), ...rows.map(csv)].join(''));
  }

  private short(text: string): string {
    return this.asked.full || text.length <= SHORT ? text : `${text.slice(0, SHORT - 1)}…`;
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
    return `${visibleText(`${level.padEnd(13)} ${time.padEnd(24)} ${title}  ${file}:${line}  ${this.short(shown)}`)}\n`;
  }

  /** Writes what is held; waits where whoever reads is slow. */
  async flush(all = false): Promise<void> {
    if (this.held.length === 0 || (!all && this.held.length < MAX_HELD)) return;
    const text = this.held.join('');
    this.held = [];
    this.wrote = true;
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
