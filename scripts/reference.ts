import { readFileSync, writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { columnDef, columnNames } from '../core/events/columns.js';
import { ocsfOfColumn } from '../core/events/ocsf.js';
import { kindNames, kinds } from '../core/events/kinds.js';
import { aggregateNames, aggregates } from '../core/wick/aggregates.js';
import { functionDef, functionNames } from '../core/wick/functions.js';
import { stepNames, steps } from '../core/wick/steps/index.js';

// Writes docs/wick.md and docs/ocsf.md from the definitions that checking and completion use; `--check` only says
// whether they are true.

const cell = (text: string): string => text.replaceAll('|', '\\|');
const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
  [head, head.map(() => '---'), ...rows.map((row) => row.map(cell))]
    .map((row) => `| ${row.join(' | ')} |`)
    .join('\n');

const language = `# Wick: what can be written

Made from the definitions that check and complete hunts. A hunt is a text of steps, one a line; a line that begins with
white space goes on with the step above; \`--\` begins a comment.

## Steps

${table(
  ['step', 'what it does', 'example'],
  stepNames.map((name) => [`\`${steps[name].call}\``, steps[name].meaning, `\`${steps[name].example}\``]),
)}

## Conditions

\`= != < <= > >=\`, \`between a and b\`, \`in ('a', 'b')\`, \`in list NAME\`, \`like 'svc-%'\` (\`%\` any run, \`_\` one sign, ignores
case), \`matches 'regex'\` (linear-time dialect; ignores case with a leading \`(?i)\`), \`within '10.0.0.0/8'\`, \`is null\`,
\`is not null\`, \`has 'text'\` (anywhere in the event), \`and\`, \`or\`, \`not\`, parentheses. Every condition is true or false: a
comparison with null is false, and \`!=\` is \`not =\`, so that leaving something out keeps the rows that have no value.

## Functions

${table(
  ['function', 'gives'],
  functionNames.map((name) => [`\`${functionDef(name).call}\``, functionDef(name).meaning]),
)}

## Aggregates

${table(
  ['aggregate', 'gives'],
  aggregateNames.map((name) => [`\`${aggregates[name].call}\``, aggregates[name].meaning]),
)}

## Kinds of events

${table(
  ['kind', 'what'],
  kindNames.map((name) => [`\`${name}\``, kinds[name]]),
)}

## Fields

What the source called a field is \`original.NAME\`, nested with dots, \`original."Some Field"\` where the name is no word.

${table(
  ['field', 'type', 'meaning'],
  columnNames.map((name) => [`\`${name}\``, columnDef(name).type, columnDef(name).meaning]),
)}
`;

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
