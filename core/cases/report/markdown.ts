import { visibleText } from '../../text/visible.js';
import { labelOfMarking, MEANING } from '../marking.js';
import type { EvidenceTable } from '../evidence.js';
import { markingOfReport, type Report } from './model.js';

/** A text that means nothing to whoever reads Markdown: every sign of punctuation is written as itself (CommonMark 2.4). */
export const plain = (text: string): string =>
  visibleText(text)
    .replace(/\s+/g, ' ')
    .replace(/[\\`*_{}[\]()<>#+\-.!|~&:@/]/g, '\\$&');

const table = (columns: readonly string[], rows: readonly (readonly string[])[]): string[] => [
  `| ${columns.map(plain).join(' | ')} |`,
  `| ${columns.map(() => '---').join(' | ')} |`,
  ...rows.map((row) => `| ${row.map((cell) => plain(cell) || ' ').join(' | ')} |`),
  '',
];

const shown = ({ rows, total }: EvidenceTable): string =>
  rows.length < total ? `*The first ${rows.length} of ${total}.*\n` : '';

const time = (iso: string): string => iso.slice(0, 19).replace('T', ' ');

/** A report as Markdown (CommonMark, with tables). */
export function reportMarkdown(report: Report): string {
  const { record, steps, lede, notes, techniques, leftOut } = report;
  const marking = markingOfReport(report);
  const line = (label: string, value: string): string[] =>
    value === '' ? [] : [`- **${label}** ${plain(value)}`];
  const out = [
    `# ${plain(record.number)} ${plain(record.title)}`,
    '',
    `**${labelOfMarking(marking)}**: ${MEANING[marking]}`,
    '',
    ...lede.split('\n').map(plain),
    '',
    ...line('state', record.state),
    ...line('severity', record.severity ?? ''),
    ...line('verdict', record.verdict ?? ''),
    ...line('owner', record.owner),
    ...line('made', `${time(report.made)} UTC`),
    '',
    '## What happened',
    '',
    'Times are UTC.',
    '',
  ];
  for (const { pin, says, time: at, gap } of steps) {
    if (gap?.long === true) out.push(`*${gap.words}*`, '');
    const place = says.place === null ? '' : `, ${plain(says.place)}`;
    out.push(`- ${plain(time(at))} ${pin.key ? `**${plain(pin.title)}**` : plain(pin.title)}${place}`);
    if (pin.why !== '') out.push(`  ${plain(pin.why)}`);
  }
  if (record.subjects.length > 0) {
    out.push('', '## Who and what', '');
    out.push(
      ...table(
        ['role', 'kind', 'name'],
        record.subjects.map(({ role, kind, name }) => [role, kind, name]),
      ),
    );
  }
  if (techniques.length > 0) {
    out.push('## Techniques (ATT&CK)', '');
    out.push(...techniques.map(({ id, name }) => `- ${plain(id)} ${plain(name)}`), '');
  }
  if (record.done.length > 0) {
    out.push('## What was done', '');
    out.push(
      ...table(
        ['time', 'what', 'state', 'asked by', 'decided by'],
        record.done.map((one) => [time(one.at), one.what, one.state, one.askedBy, one.decidedBy ?? '']),
      ),
    );
  }
  if (record.tasks.length > 0) {
    out.push('## What is open', '');
    out.push(
      ...record.tasks.map(
        ({ what, owner, due, done }) =>
          `- [${done === null ? ' ' : 'x'}] ${plain(what)}, ${plain(owner)}${due === null ? '' : `, ${plain(due.slice(0, 10))}`}`,
      ),
      '',
    );
  }
  if (notes.length > 0) {
    out.push('## Notes', '');
    for (const note of notes)
      out.push(
        `${plain(note.who)}, ${plain(time(note.at))}${note.about === null ? '' : `, on ${plain(note.about)}`}`,
        '',
        ...note.text.split('\n').map((one) => `> ${plain(one)}`),
        '',
      );
  }
  out.push('## Evidence', '');
  for (const { pin, says } of steps) {
    out.push(`### ${plain(pin.title)}`, '');
    out.push(...says.facts.map(({ label, value }) => `- ${plain(label)}: ${plain(value)}`), '');
    if (says.table !== null) out.push(...table(says.table.columns, says.table.rows), shown(says.table));
  }
  out.push('## Hashes', '');
  out.push(
    ...table(
      ['kind', 'title', 'pinned', 'SHA-256'],
      steps.map(({ pin }) => [
        pin.kind,
        pin.title,
        `${pin.who}, ${time(pin.at)}`,
        pin.sha256 ?? 'not frozen',
      ]),
    ),
  );
  if (leftOut.pins + leftOut.notes > 0)
    out.push(
      `Left out because it is marked for fewer readers: ${leftOut.pins} pinned, ${leftOut.notes} ${leftOut.notes === 1 ? 'note' : 'notes'}.`,
      '',
    );
  return `${out.join('\n').trimEnd()}\n`;
}
