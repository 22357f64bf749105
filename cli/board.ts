import { readFileSync } from 'node:fs';
import { formatInstant, type Instant, parseInstant } from '../core/base/instant.js';
import { answerInMemory, unfilled } from '../core/boards/answer-in-memory.js';
import { toToldCard } from '../core/boards/draw-card.js';
import { drawPage } from '../core/boards/draw-page.js';
import { readBoard } from '../core/boards/read-board.js';
import type { Event } from '../core/events/event.js';
import { jsonCells } from '../core/output/json-lines.js';
import { visibleJson } from '../core/text/visible.js';
import { zoneName } from '../core/text/zones.js';
import { readPair, readTime } from './hunt-arguments.js';
import { readListFile } from './list-file.js';
import { readEventsFile } from './read-events.js';
import { readWords } from './read-words.js';
import { readSubjectsFile } from './subjects-file.js';
import { UsageError } from './usage.js';
import { windowOf } from './window-of.js';

/** Runs `lamp board`. @returns the exit code: 2 for a board that cannot be read */
export async function board(words: readonly string[]): Promise<number> {
  const { values, positionals } = readWords({
    args: [...words],
    allowPositionals: true,
    options: {
      board: { type: 'string' },
      events: { type: 'string', multiple: true, default: [] },
      from: { type: 'string' },
      to: { type: 'string' },
      now: { type: 'string' },
      zone: { type: 'string', default: 'UTC' },
      format: { type: 'string', default: 'json' },
      list: { type: 'string', multiple: true, default: [] },
      param: { type: 'string', multiple: true, default: [] },
      subjects: { type: 'string' },
    },
  });
  if (values.board === undefined) throw new UsageError('--board FILE.json is missing.');
  const files = [...values.events, ...positionals];
  if (files.length === 0) throw new UsageError('--events FILE.jsonl is missing.');
  if (values.format !== 'json' && values.format !== 'html')
    throw new UsageError(`--format: "${values.format}" is none of html, json.`);
  const zone = zoneName(values.zone);
  if (zone === null) throw new UsageError(`--zone: "${values.zone}" is no time zone, such as Europe/Lisbon.`);
  const [from, to, given] = [
    readTime('from', values.from),
    readTime('to', values.to),
    readTime('now', values.now),
  ];
  if (from !== undefined && to !== undefined && to <= from)
    throw new UsageError('--to must be later than --from.');

  const read = readBoard(readText(values.board));
  if (read.board === null) {
    for (const { line, column, message } of read.mistakes)
      process.stderr.write(`${values.board}: line ${line}, column ${column}: ${message}\n`);
    return 2;
  }
  const events: Event[] = [];
  for (const file of files) {
    const { events: more, notes } = readEventsFile(file);
    for (const event of more) events.push(event);
    for (const note of notes) process.stderr.write(`note: ${files.length > 1 ? `${file}: ` : ''}${note}\n`);
  }
  const window = windowOf(events, from, to);
  const now: Instant = given ?? to ?? window.to;
  const lists = values.list.map((word) => readListFile(...readPair('list', word, 'NAME=FILE.json'), now));
  const inputs = Object.fromEntries(values.param.map((word) => readPair('param', word, 'NAME=VALUE')));
  const missing = unfilled(read.board, inputs);
  if (missing.length > 0)
    process.stderr.write(
      `note: The board asks for ${missing.join(', ')}: give each by --param NAME=VALUE.\n`,
    );
  const answers = answerInMemory(
    read.board,
    events,
    { window, zone, carried: [], inputs },
    {
      now,
      lists: lists.map(({ ref }) => ref),
      environment: {
        rowsOf(ref) {
          const list = lists.find((known) => known.ref === ref);
          if (list === undefined) throw new Error(`The list "${ref.name}" was not given.`);
          return list.find;
        },
      },
      parse: parseInstant,
      subjects: readSubjectsFile(values.subjects),
    },
  );
  const text =
    values.format === 'html'
      ? drawPage(read.board, answers.map(toToldCard), {
          window: { from: formatInstant(window.from), to: formatInstant(window.to) },
          zone,
          inputs,
          counted: formatInstant(now),
        })
      : `${visibleJson(
          JSON.stringify({
            title: read.board.title,
            cards: answers.map(({ card, columns, rows, error }) => ({
              id: card.id,
              title: card.title,
              columns: columns.map(({ name }) => name),
              rows: rows.map((row) => jsonCells(columns, row)),
              ...(error !== null && { error }),
            })),
          }),
        )}\n`;
  if (!process.stdout.write(text))
    await new Promise<void>((resolve) => process.stdout.once('drain', resolve));
  for (const { card, error } of answers)
    if (error !== null)
      process.stderr.write(
        `note: ${card.title}: line ${error.line}, column ${error.column}: ${error.message}\n`,
      );
  return 0;
}

function readText(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    throw new UsageError(
      `The board cannot be read: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}
