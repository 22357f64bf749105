import { visibleJson, visibleText } from '../core/text/visible.js';
import { readFileSync } from 'node:fs';
import { csvHead, csvRow } from '../core/output/csv.js';
import { jsonCells, jsonRow } from '../core/output/json-lines.js';
import { compileHunt } from '../core/wick/compile.js';
import { HuntError } from '../core/wick/hunt-error.js';
import { TooMuch } from '../core/wick/too-much.js';
import { runInMemory, type HuntResult } from '../core/wick/in-memory/run.js';
import { readHuntArguments, type Format } from './hunt-arguments.js';
import { readListFile } from './list-file.js';
import { eventsOf } from './records-as-events.js';
import { readSubjectsFile } from './subjects-file.js';
import { UsageError } from './usage.js';
import { windowOf } from './window-of.js';

/** Rows are written in pieces, so that a large result does not stand in memory twice. */
const ROWS_A_WRITE = 1000;

/** Runs `lamp hunt`. @returns the exit code */
export async function hunt(words: readonly string[]): Promise<number> {
  const asked = readHuntArguments(words);
  const text = asked.text ?? readText(asked.file ?? '/dev/stdin', asked.file ?? 'standard input');
  const lists = asked.lists.map(({ name, file }) => readListFile(name, file, asked.now ?? Date.now() * 1000));
  const subjects = readSubjectsFile(asked.subjects);
  const { events, notes } = await eventsOf(asked.events, asked.recipe);
  const window = windowOf(events, asked.from, asked.to);
  try {
    const plan = compileHunt(text, {
      window,
      now: asked.now ?? asked.to ?? Date.now() * 1000,
      lists: lists.map((list) => list.ref),
      parameters: asked.parameters,
      subjects,
    });
    const result = runInMemory(plan, events, {
      rowsOf(ref) {
        const list = lists.find((known) => known.ref === ref);
        if (list === undefined) throw new Error(`The list "${ref.name}" was not given.`);
        return list.find;
      },
    });
    const allNotes = [...notes, ...plan.notes, ...result.remarks];
    if (asked.format !== 'json') for (const note of allNotes) process.stderr.write(`note: ${note}\n`);
    await writeAll(spell(result, asked.format, allNotes));
    return 0;
  } catch (error) {
    if (!(error instanceof HuntError || error instanceof TooMuch)) throw error;
    process.stderr.write(`${error instanceof HuntError ? error.describe() : error.message}\n`);
    return 2;
  }
}

function readText(path: string, name: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    throw new UsageError(
      `The hunt cannot be read from ${name}: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

const forOutput = (text: string): string => (process.stdout.isTTY ? visibleText(text) : text);

function* spell(result: HuntResult, format: Format, notes: readonly string[]): Generator<string> {
  const { columns, rows } = result;
  switch (format) {
    case 'jsonl':
      for (const row of rows) yield `${visibleJson(JSON.stringify(jsonRow(columns, row)))}\n`;
      return;
    case 'csv':
      // A file keeps what it is; a terminal is not steered by it.
      yield `${forOutput(csvHead(columns))}\r\n`;
      for (const row of rows) yield `${forOutput(csvRow(columns, row))}\r\n`;
      return;
    case 'json':
      yield `{"columns":${JSON.stringify(columns.map((column) => column.name))},"rows":[`;
      for (const [i, row] of rows.entries())
        yield (i === 0 ? '' : ',') + visibleJson(JSON.stringify(jsonCells(columns, row)));
      yield `],"notes":${JSON.stringify(notes)}}\n`;
      return;
  }
}

async function writeAll(pieces: Iterable<string>): Promise<void> {
  let held: string[] = [];
  const flush = async (): Promise<void> => {
    const text = held.join('');
    held = [];
    if (!process.stdout.write(text))
      await new Promise<void>((resolve) => process.stdout.once('drain', resolve));
  };
  for (const piece of pieces) {
    held.push(piece);
    if (held.length >= ROWS_A_WRITE) await flush();
  }
  await flush();
}
