import { escapeHtml } from '../../text/escape-html.js';
import { labelOfMarking, MEANING } from '../marking.js';
import type { EvidenceTable } from '../evidence.js';
import { markingOfReport, type Report, type ReportStep, thawed } from './model.js';
import { PICTURE_STYLE, pictureOf } from './picture.js';

const e = escapeHtml;
const time = (iso: string): string => e(iso.slice(0, 19).replace('T', ' '));
const clock = (iso: string): string => e(iso.slice(11, 19));

/** Ink on paper: readable on a page and in print, with nothing that is fetched from elsewhere. */
const STYLE = `
@page { size: A4; margin: 15mm 16mm 16mm; @bottom-right { content: counter(page); font: 9pt system-ui, sans-serif; color: #6b5a43; } }
* { box-sizing: border-box; }
body { margin: 0 auto; max-width: 180mm; padding: 4mm; color: #231a10; background: #fff; font: 10.5pt/1.45 'Atkinson Hyperlegible Next', 'Helvetica Neue', Arial, sans-serif; }
h1, h2, h3, .lede { font-family: Newsreader, Georgia, 'Times New Roman', serif; }
h1 { margin: 0 0 2mm; font-size: 24pt; font-weight: 500; line-height: 1.15; overflow-wrap: anywhere; }
h1 small { display: block; font: 11pt 'Atkinson Hyperlegible Mono', ui-monospace, monospace; color: #6b5a43; }
h2 { margin: 8mm 0 2mm; padding-bottom: 1mm; border-bottom: 1px solid #c9b897; font-size: 14pt; font-weight: 600; break-after: avoid; }
h3 { margin: 5mm 0 1mm; font-size: 11.5pt; font-weight: 600; break-after: avoid; overflow-wrap: anywhere; }
p { margin: 0 0 2mm; }
.marking { display: flex; justify-content: space-between; gap: 6mm; margin-bottom: 6mm; padding-bottom: 2mm; border-bottom: 2px solid #231a10; font-size: 9.5pt; }
.lede { margin: 4mm 0 5mm; font-size: 13.5pt; line-height: 1.4; white-space: pre-wrap; overflow-wrap: anywhere; }
dl { display: grid; grid-template-columns: max-content 1fr; gap: .5mm 4mm; margin: 0; }
dt { color: #6b5a43; }
dd { margin: 0; overflow-wrap: anywhere; white-space: pre-wrap; }
.two { display: block; columns: 2; column-gap: 8mm; }
.two dt { float: left; clear: left; }
.two dd { margin-left: 24mm; }
table { width: 100%; margin: 1mm 0 2mm; border-collapse: collapse; font-size: 9pt; }
th, td { padding: 1mm 2mm 1mm 0; border-bottom: 1px solid #e2d6bd; text-align: left; vertical-align: top; overflow-wrap: anywhere; }
th { color: #6b5a43; font-weight: 500; }
tr { break-inside: avoid; }
.mono, code { font-family: 'Atkinson Hyperlegible Mono', ui-monospace, monospace; font-size: .92em; }
.story { margin: 0; padding: 0; list-style: none; }
.story li { display: grid; grid-template-columns: 20mm 1fr; gap: 3mm; padding: .5mm 0; break-inside: avoid; }
.story .day { margin-top: 3mm; color: #6b5a43; font-weight: 600; grid-template-columns: 1fr; }
.story .gap { color: #6b5a43; font-size: 9pt; grid-template-columns: 20mm 1fr; }
.story b { overflow-wrap: anywhere; }
.soft { color: #6b5a43; font-size: 9.5pt; }
/* What proves it is looked up, not read: small and close. */
.proof { font-size: 7.5pt; line-height: 1.3; }
.proof h3 { margin: 2mm 0 0; font-size: 9pt; }
.proof p, .proof table { margin: 0 0 .5mm; font-size: 7.5pt; }
.proof th, .proof td { padding: .4mm 1.5mm .4mm 0; }
.hashes td { overflow-wrap: anywhere; }
.hashes td:nth-child(2) { width: 28mm; }
.hashes td:last-child { width: 90mm; font: 6.4pt 'Atkinson Hyperlegible Mono', ui-monospace, monospace; }
.note { margin: 0 0 3mm; padding-left: 3mm; border-left: 2px solid #d9a441; white-space: pre-wrap; overflow-wrap: anywhere; break-inside: avoid; }
svg { display: block; width: 100%; height: 16mm; margin: 2mm 0 4mm; }
`;

const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
const dayInWords = (iso: string): string =>
  `${Number(iso.slice(8, 10))} ${MONTHS[Number(iso.slice(5, 7)) - 1] ?? ''} ${iso.slice(0, 4)}`;

const rowsOf = (columns: readonly string[], rows: readonly (readonly string[])[]): string =>
  `<table><thead><tr>${columns.map((one) => `<th scope="col">${e(one)}</th>`).join('')}</tr></thead><tbody>${rows
    .map((row) => `<tr>${row.map((cell) => `<td>${e(cell)}</td>`).join('')}</tr>`)
    .join('')}</tbody></table>`;

/** Rows of one piece of evidence on paper: enough to see what it is. */
const MAX_SHOWN = 3;

const evidenceTable = (table: EvidenceTable | null): string =>
  table === null
    ? ''
    : rowsOf(table.columns, table.rows.slice(0, MAX_SHOWN)) +
      (table.total > MAX_SHOWN
        ? `<p class="soft">The first ${Math.min(MAX_SHOWN, table.rows.length)} of ${table.total.toLocaleString('en')}; all are in the case file.</p>`
        : '');

/** Where in time the things of a story stand: a line with a mark for each, the key ones filled. */
function strip(steps: readonly ReportStep[]): string {
  const times = steps.map((step) => Date.parse(step.time));
  const from = Math.min(...times);
  const to = Math.max(...times);
  if (steps.length < 2 || !(to > from)) return '';
  const x = (at: number): string => (8 + ((at - from) / (to - from)) * 684).toFixed(1);
  return `<svg viewBox="0 0 700 60" role="img" aria-label="When it happened"><line x1="8" x2="692" y1="24" y2="24" stroke="#231a10"/>${steps
    .map(
      ({ pin }, i) =>
        `<circle cx="${x(times[i] ?? from)}" cy="24" r="6" fill="${pin.key ? '#231a10' : '#fff'}" stroke="#231a10" stroke-width="1.5"/>`,
    )
    .join(
      '',
    )}<text x="2" y="52" font-size="12" fill="#6b5a43">${e(dayInWords(steps[0]?.time ?? ''))}</text><text x="698" y="52" font-size="12" fill="#6b5a43" text-anchor="end">${e(dayInWords(steps.at(-1)?.time ?? ''))}</text></svg>`;
}

function story(steps: readonly ReportStep[]): string {
  return `<ol class="story">${steps
    .map(({ pin, says, time: at, gap, newDay }) => {
      const before = newDay
        ? `<li class="day">${e(dayInWords(at))}</li>`
        : gap?.long === true
          ? `<li class="gap"><span></span><span>${e(gap.words)}</span></li>`
          : '';
      const title = pin.key ? `<b>${e(pin.title)}</b>` : `<span>${e(pin.title)}</span>`;
      const more = [says.place ?? '', pin.why].filter((one) => one !== '').map(e);
      return `${before}<li><span class="mono">${clock(at)}</span><span>${title}${more.length > 0 ? ` <span class="soft">${more.join(' · ')}</span>` : ''}</span></li>`;
    })
    .join('')}</ol>`;
}

/** Pictures of a report: what is shown of more is in the evidence. */
const MAX_PICTURES = 8;

/** What cards showed when they were pinned, as they showed it. */
const picturesOf = (steps: readonly ReportStep[]): string =>
  steps
    .flatMap(({ pin }) => {
      const drawn = pictureOf(thawed(pin));
      return drawn === null ? [] : [`<figure><figcaption>${e(pin.title)}</figcaption>${drawn}</figure>`];
    })
    .slice(0, MAX_PICTURES)
    .join('');

const section = (title: string, inside: string): string =>
  inside === '' ? '' : `<section><h2>${e(title)}</h2>${inside}</section>`;

/** A report as one page of HTML that stands alone, for a screen or for paper. All outside text is escaped. */
export function reportHtml(report: Report): string {
  const { record, steps, lede, notes, techniques, leftOut, made } = report;
  const marking = markingOfReport(report);
  const facts = [
    ['state', record.state],
    ['severity', record.severity ?? ''],
    ['verdict', record.verdict ?? ''],
    ['owner', record.owner],
    ['opened', `${record.created.slice(0, 16).replace('T', ' ')} UTC`],
  ].filter(([, value]) => value !== '');
  const roles = [...new Set(record.subjects.map(({ role }) => role))];
  const left = leftOut.pins + leftOut.notes;
  const pictures = picturesOf(steps);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${e(record.number)} ${e(record.title)}</title><style>${STYLE}${pictures === '' ? '' : PICTURE_STYLE}</style></head><body>
<p class="marking"><b>${labelOfMarking(marking)}</b><span>${e(MEANING[marking])}</span></p>
<h1><small>Case ${e(record.number)}</small>${e(record.title)}</h1>
<p class="lede">${e(lede)}</p>
<dl>${facts.map(([label, value]) => `<dt>${e(label ?? '')}</dt><dd>${e(value ?? '')}</dd>`).join('')}</dl>
${section('What happened', steps.length === 0 ? '<p>Nothing is pinned.</p>' : `${strip(steps)}<p class="soft">Times are UTC. What matters most is in bold.</p>${story(steps)}`)}
${section('As it was seen', pictures)}
${section(
  'Who and what',
  roles.length === 0
    ? ''
    : `<dl>${roles
        .map(
          (role) =>
            `<dt>${e(role)}</dt><dd class="mono">${record.subjects
              .filter((one) => one.role === role)
              .map(({ name }) => e(name))
              .join(', ')}</dd>`,
        )
        .join('')}</dl>`,
)}
${section('How: techniques of ATT&CK', techniques.length === 0 ? '' : `<dl class="two">${techniques.map(({ id, name }) => `<dt class="mono">${e(id)}</dt><dd>${e(name)}</dd>`).join('')}</dl>`)}
${section(
  'What was done',
  record.done.length === 0
    ? ''
    : rowsOf(
        ['time, UTC', 'what', 'state', 'asked by', 'decided by'],
        record.done.map((one) => [
          one.at.slice(0, 16).replace('T', ' '),
          one.what,
          one.state,
          one.askedBy,
          one.decidedBy ?? '',
        ]),
      ),
)}
${section(
  'What is left to do',
  record.tasks.length === 0
    ? ''
    : rowsOf(
        ['what', 'who', 'due', 'state'],
        record.tasks.map(({ what, owner, due, done }) => [
          what,
          owner,
          due?.slice(0, 10) ?? '',
          done === null ? 'open' : `done ${done.slice(0, 10)}`,
        ]),
      ),
)}
${section(
  'Notes',
  notes
    .map(
      (note) =>
        `<p class="soft">${e(note.who)}, ${time(note.at)}${note.about === null ? '' : `, on ${e(note.about)}`}</p><p class="note">${e(note.text)}</p>`,
    )
    .join(''),
)}
${section(
  'Evidence',
  steps.length === 0
    ? ''
    : `<div class="proof">${steps
        .map(
          ({ pin, says, time: at }) =>
            `<h3>${e(pin.title)}</h3><p class="soft">${[`${e(pin.kind)}, ${time(at)}`, ...says.facts.map(({ label, value }) => `${e(label)} <span class="mono">${e(value)}</span>`)].join(' · ')}</p>${evidenceTable(says.table)}`,
        )
        .join('')}</div>`,
)}
${section(
  'Hashes of the evidence',
  steps.length === 0
    ? ''
    : `<div class="proof hashes"><p class="soft">SHA-256 over the canonical JSON (RFC 8785) of each thing as it was when it was pinned.</p>${rowsOf(
        ['what', 'pinned', 'SHA-256'],
        steps.map(({ pin }) => [pin.title, `${pin.who} ${pin.at.slice(0, 10)}`, pin.sha256 ?? 'not frozen']),
      )}</div>`,
)}
<p class="soft">${left === 0 ? 'Nothing was left out.' : `Left out because it is marked for fewer readers: ${leftOut.pins} pinned, ${leftOut.notes} ${leftOut.notes === 1 ? 'note' : 'notes'}.`} Made by Under Lamp, ${time(made)} UTC.</p>
</body></html>
`;
}
