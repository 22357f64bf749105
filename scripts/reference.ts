import { readFileSync, writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { columnDef, columnNames } from '../core/events/columns.js';
import { ocsfOfColumn } from '../core/events/ocsf.js';
import { reference } from '../core/wick/reference.js';

// Writes docs/wick.md and docs/ocsf.md from the definitions that checking and completion use; `--check` only says
// whether they are true.

const cell = (text: string): string => text.replaceAll('|', '\\|');
const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
  [head, head.map(() => '---'), ...rows.map((row) => row.map(cell))]
    .map((row) => `| ${row.join(' | ')} |`)
    .join('\n');

const chapter = (title: string): string => {
  const entries = reference.find((one) => one.title === title)?.entries ?? [];
  const hasExamples = entries.some(({ example }) => example !== undefined);
  return `## ${title}

${table(
  hasExamples ? ['written', 'meaning', 'example'] : ['written', 'meaning'],
  entries.map(({ call, meaning, example }) => [
    `\`${call}\``,
    meaning,
    ...(hasExamples ? [`\`${(example ?? '').replaceAll('\n', '` `')}\``] : []),
  ]),
)}
`;
};

const language = `# Wick: what can be written

Made from the definitions that check and complete hunts. A hunt is a text of steps, one a line; a line that begins with
white space goes on with the step above; \`--\` begins a comment. Every condition is true or false: a comparison with null
is false, and \`!=\` is \`not =\`, so that leaving something out keeps the rows that have no value. What the source called a
field is \`original.NAME\`, nested with dots, \`original."Some Field"\` where the name is no word.

${reference.map(({ title }) => chapter(title)).join('\n')}`;

const names = `# Our columns and the open schema

Where each column stands in an event of OCSF (1.x), for import and export; each path belongs to one column, so the table
is read both ways. Columns without a place there are carried under \`unmapped\`.

${table(
  ['column', 'OCSF attribute', 'meaning'],
  columnNames.map((name) => [
    `\`${name}\``,
    ocsfOfColumn[name] === undefined ? 'none' : `\`${ocsfOfColumn[name]}\``,
    columnDef(name).meaning,
  ]),
)}
`;

for (const [file, text] of [
  ['docs/wick.md', language],
  ['docs/ocsf.md', names],
] as const) {
  const written = await format(text, { parser: 'markdown', printWidth: 120 });
  if (!process.argv.includes('--check')) writeFileSync(file, written);
  else if (readFileSync(file, 'utf8') !== written) {
    process.stderr.write(`${file} is not what the definitions say: run npm run reference.\n`);
    process.exitCode = 1;
  }
}
