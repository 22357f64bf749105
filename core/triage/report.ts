import type { Json } from '../base/json.js';
import { formatInstant, type Instant } from '../base/instant.js';
import { severities, type Severity } from '../events/kinds.js';
import { escapeHtml as e } from '../text/escape-html.js';
import type { Graph, Place, StudyTable } from './facts.js';

// The findings of a sweep as one page of HTML: no scripts, nothing beside it. All that came from files or rules is text.

/** A file that was looked at. */
export interface ReportFile {
  readonly file: string;
  /** What its records were read as; null where it is no log. */
  readonly readAs: string | null;
  readonly records: number;
  readonly unreadable: number;
  readonly matches: number;
}

export interface ReportRule {
  readonly title: string;
  readonly id: string | null;
  readonly level: Severity;
  readonly matches: number;
  /** `asked`; or why it was asked of no record. */
  readonly state: string;
}

export interface ReportFinding extends Place {
  readonly title: string;
  readonly level: Severity;
  readonly time: Instant | null;
  /** The record, or the group of a correlation, as text. */
  readonly shown: string;
}

export interface TriageReport {
  readonly made: Instant;
  readonly files: readonly ReportFile[];
  readonly rules: readonly ReportRule[];
  readonly refused: readonly {
    readonly file: string;
    readonly rule: string | null;
    readonly line: number;
    readonly reason: string;
  }[];
  readonly findings: readonly ReportFinding[];
  /** Findings that are counted, but were too many to keep. */
  readonly left: number;
  readonly studies: readonly StudyTable[];
  /** Whole values, not shortened. */
  readonly full: boolean;
}

/** Characters of a value that is shortened. */
const SHORT = 160;
/** Rows of one table: whole lists are in the CSV files. */
const MAX_ROWS = 2000;
const BUCKETS = 60;
/** Of each level a colour and, in words, its name beside it. */
const COLOURS: Readonly<Record<Severity, string>> = {
  informational: '#a3b8c2',
  low: '#7d9a86',
  medium: '#d1942f',
  high: '#b4562c',
  critical: '#832f33',
};

const count = (n: number): string => n.toLocaleString('en-GB');
const shortened = (text: string, full: boolean): string =>
  full || text.length <= SHORT ? text : `${text.slice(0, SHORT - 1)}…`;
const timeText = (time: Instant | null): string => (time === null ? 'no time' : formatInstant(time));
const rank = (level: Severity): number => severities.indexOf(level);

function table(head: readonly string[], rows: readonly (readonly Json[])[], full: boolean): string {
  if (rows.length === 0) return '<p class="soft">None.</p>';
  const cell = (value: Json): string =>
    typeof value === 'number'
      ? `<td class="num">${e(count(value))}</td>`
      : `<td>${value === null ? '' : e(shortened(typeof value === 'string' ? value : JSON.stringify(value), full))}</td>`;
  const left = rows.length - MAX_ROWS;
  return `<div class="wide"><table><thead><tr>${head.map((name) => `<th>${e(name)}</th>`).join('')}</tr></thead><tbody>${rows
    .slice(0, MAX_ROWS)
    .map((row) => `<tr>${row.map(cell).join('')}</tr>`)
    .join(
      '\n',
    )}</tbody></table></div>${left > 0 ? `<p class="soft">${count(left)} more rows are not shown.</p>` : ''}`;
}

/** Findings over time, stacked by level. */
function overTime(findings: readonly ReportFinding[]): string {
  const timed = findings.flatMap(({ time, level }) => (time === null ? [] : [{ time, level }]));
  if (timed.length === 0) return '';
  let [from, to] = [Infinity, -Infinity];
  for (const { time } of timed) {
    from = Math.min(from, time);
    to = Math.max(to, time);
  }
  const width = Math.max(1, Math.ceil((to - from) / BUCKETS));
  const buckets = Array.from({ length: BUCKETS }, () => new Map<Severity, number>());
  for (const { time, level } of timed) {
    const bucket = buckets[Math.min(BUCKETS - 1, Math.floor((time - from) / width))];
    bucket?.set(level, (bucket.get(level) ?? 0) + 1);
  }
  const sums = buckets.map((bucket) => [...bucket.values()].reduce((sum, n) => sum + n, 0));
  const most = Math.max(1, ...sums);
  const bars = buckets.flatMap((bucket, i) => {
    let top = 0;
    return [...severities].reverse().flatMap((level) => {
      const n = bucket.get(level) ?? 0;
      if (n === 0) return [];
      top += n;
      return [
        `<rect x="${i * 10}" y="${(100 - (top / most) * 100).toFixed(1)}" width="8" height="${((n / most) * 100).toFixed(1)}" fill="${COLOURS[level]}"><title>${e(timeText(from + i * width))}: ${level} ${count(n)}</title></rect>`,
      ];
    });
  });
  const legend = [...severities].reverse().flatMap((level) => {
    const n = findings.filter((one) => one.level === level).length;
    return n === 0 ? [] : [`<span><i style="background:${COLOURS[level]}"></i>${level} ${count(n)}</span>`];
  });
  return `<svg class="time" viewBox="0 0 ${BUCKETS * 10} 100" preserveAspectRatio="none" role="img" aria-label="Findings over time">${bars.join('')}</svg>
<p class="axis soft"><span>${e(timeText(from))}</span><span>most at once ${count(most)}</span><span>${e(timeText(to))}</span></p><p class="legend">${legend.join(' ')}</p>`;
}

/** Machines around a circle, an arrow from each to those it reached. */
function drawGraph({ nodes, edges }: Graph): string {
  if (edges.length === 0) return '';
  const [wide, high] = [900, Math.min(620, 220 + nodes.length * 14)];
  const at = (i: number): readonly [number, number] => {
    const angle = (2 * Math.PI * i) / nodes.length - Math.PI / 2;
    return [wide / 2 + Math.cos(angle) * (wide / 2 - 150), high / 2 + Math.sin(angle) * (high / 2 - 30)];
  };
  const most = Math.max(1, ...edges.map(({ count: n }) => n));
  const lines = edges.map(({ from, to, count: n }) => {
    const [[x1, y1], [x2, y2]] = [at(nodes.indexOf(from)), at(nodes.indexOf(to))];
    const far = Math.hypot(x2 - x1, y2 - y1) || 1;
    const [dx, dy] = [((x2 - x1) / far) * 9, ((y2 - y1) / far) * 9];
    // Bent, so that there and back again are two lines.
    const [mx, my] = [(x1 + x2) / 2 - ((y2 - y1) / far) * 18, (y1 + y2) / 2 + ((x2 - x1) / far) * 18];
    return `<path d="M${(x1 + dx).toFixed(0)},${(y1 + dy).toFixed(0)} Q${mx.toFixed(0)},${my.toFixed(0)} ${(x2 - dx).toFixed(0)},${(y2 - dy).toFixed(0)}" stroke-width="${(1 + 3 * (n / most)).toFixed(1)}" marker-end="url(#tip)"><title>${e(from)} to ${e(to)}: ${count(n)}</title></path>`;
  });
  const marks = nodes.map((node, i) => {
    const [x, y] = at(i);
    const side = x < wide / 2 - 1 ? 'end' : 'start';
    return `<circle cx="${x.toFixed(0)}" cy="${y.toFixed(0)}" r="5"/><text x="${(x + (side === 'end' ? -9 : 9)).toFixed(0)}" y="${(y + 4).toFixed(0)}" text-anchor="${side}">${e(shortened(node, false).slice(0, 40))}</text>`;
  });
  return `<svg class="graph" viewBox="0 0 ${wide} ${high}" role="img" aria-label="Machines and who reached whom"><defs><marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="8" markerHeight="8" markerUnits="userSpaceOnUse" orient="auto"><path d="M0,0L8,4L0,8z"/></marker></defs>${lines.join('')}${marks.join('')}</svg>`;
}

/** Draws what a sweep found as one page that needs nothing else. */
export function drawReport(report: TriageReport): string {
  const { files, rules, refused, findings, studies, full } = report;
  const records = files.reduce((sum, file) => sum + file.records, 0);
  const bySeverity = [...findings].sort(
    (a, b) => rank(b.level) - rank(a.level) || (a.time ?? Infinity) - (b.time ?? Infinity),
  );
  const matched = rules.filter((rule) => rule.matches > 0);
  const worst = bySeverity[0];
  const lede =
    worst === undefined
      ? 'No rule matched.'
      : `${count(findings.length + report.left)} findings by ${count(matched.length)} rules; the gravest: ${worst.title} (${worst.level}), ${timeText(worst.time)}.`;
  const ruleRows = [...rules]
    .sort((a, b) => b.matches - a.matches || rank(b.level) - rank(a.level))
    .map((rule): Json[] => [rule.title, rule.level, rule.matches, rule.state, rule.id]);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<title>Triage of ${count(files.length)} files</title><style>${STYLE}</style></head><body>
<header><h1>Triage of ${count(files.length)} files</h1><p class="lede">${e(lede)}</p>
<p class="soft">${count(records)} records · ${count(rules.length)} rules loaded, ${count(refused.length)} refused · made ${e(timeText(report.made))} · times are UTC · ${full ? 'full values' : `values shortened to ${SHORT} characters`}</p>
<nav><a href="#findings">Findings</a>${studies.map(({ study, title }) => ` <a href="#${study}">${e(title)}</a>`).join('')} <a href="#rules">Rules</a> <a href="#refused">Refused</a> <a href="#files">Files</a></nav></header>
<main><section id="findings"><h2>Findings by severity and time</h2>${overTime(findings)}
${table(
  ['level', 'time', 'rule', 'file', 'line', 'record'],
  bySeverity.map(({ level, time, title, file, line, shown }) => [
    level,
    timeText(time),
    title,
    file,
    String(line),
    shown,
  ]),
  full,
)}${report.left > 0 ? `<p class="soft">${count(report.left)} more findings were counted and not kept.</p>` : ''}</section>
${studies
  .map(
    (study) =>
      `<section id="${study.study}"><h2>${e(study.title)}</h2>${study.graph === undefined ? '' : drawGraph(study.graph)}${table(study.columns, study.rows, full)}${study.notes.map((note) => `<p class="soft">${e(note)}</p>`).join('')}</section>`,
  )
  .join('\n')}
<section id="rules"><h2>Rules</h2>${table(['rule', 'level', 'matches', 'state', 'id'], ruleRows, full)}</section>
<section id="refused"><h2>Rules that were refused</h2>${table(
    ['rule', 'why', 'file', 'line'],
    refused.map(({ rule, reason, file, line }) => [rule, reason, file, String(line)]),
    true,
  )}</section>
<section id="files"><h2>Files</h2>${table(
    ['file', 'read as', 'records', 'unreadable', 'findings'],
    files.map(({ file, readAs, records: n, unreadable, matches }) => [
      file,
      readAs ?? 'no log',
      n,
      unreadable,
      matches,
    ]),
    true,
  )}</section></main></body></html>
`;
}

const STYLE = `
body{margin:0;background:#f4ead3;color:#281d13;font:14px/1.4 system-ui,sans-serif}
header{padding:16px 24px;border-bottom:1px solid #b9a47c}h1{margin:0;font:500 28px/1.15 Georgia,serif}.lede{margin:6px 0;font:17px/1.4 Georgia,serif;overflow-wrap:anywhere}
.soft{color:#6a573e;font-size:12px}nav a{margin-right:14px;color:#23477a}section{padding:8px 24px}h2{margin:12px 0 6px;font:600 18px/1.2 Georgia,serif}
.wide{overflow-x:auto}table{border-collapse:collapse;font-size:12.5px}th{background:#ebdec2;font-weight:500;text-align:left;white-space:nowrap}th,td{padding:3px 9px;vertical-align:top}td{border-bottom:1px solid #d9c8a5;overflow-wrap:anywhere;min-width:40px;max-width:560px}.num{text-align:right;font-variant-numeric:tabular-nums}
svg{display:block;width:100%}.time{height:120px}.axis{display:flex;justify-content:space-between;margin:2px 0}.legend span{margin-right:12px;font-size:12px}.legend i{display:inline-block;width:10px;height:10px;margin-right:4px}
.graph{max-width:980px}.graph path{fill:none;stroke:#23477a;opacity:.75}.graph marker path{fill:#23477a;stroke:none}.graph circle{fill:#281d13}.graph text{font:12px ui-monospace,monospace;fill:#281d13}
@media print{body{background:#fff}td{max-width:none}}
`;
