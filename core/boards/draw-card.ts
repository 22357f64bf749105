import type { Json } from '../base/json.js';
import { jsonCell } from '../output/cells.js';
import { escapeHtml as safe } from '../text/escape-html.js';
import type { AnsweredCard } from './answer-in-memory.js';
import type { Card } from './board.js';
import { type ColumnLike, figureColumns, figuresOf, type Shape } from './columns.js';
import { readTemplate } from './sentence.js';

// What a card shows as HTML that needs nothing else. Everything that came from events or from the board is text, with
// characters that mislead made visible.

const SERIES = ['#23477a', '#d1942f', '#2a6f63', '#6c2f52', '#a3b8c2', '#95826a'];
const HEAT = ['#ede0c2', '#cfccc0', '#96abb9', '#54779f', '#1d3f70'];
const MAX_TABLE_ROWS = 200;

const cellOf = (value: Json): string =>
  value === null
    ? '·'
    : typeof value === 'object'
      ? JSON.stringify(value)
      : typeof value === 'number'
        ? number(value)
        : String(value);

const number = (value: number): string =>
  Number.isInteger(value) ? value.toLocaleString('en-GB') : String(Math.round(value * 100) / 100);

interface Drawn extends Shape {
  readonly names: readonly string[];
  readonly cells: readonly (readonly Json[])[];
  readonly numeric: readonly boolean[];
}

/** A picture of rows as they are kept: cells as JSON, with the kind of picture and its template. */
export function drawRows(
  picture: { readonly kind: string; readonly template?: string | undefined },
  columns: readonly (ColumnLike & { readonly name: string })[],
  cells: readonly (readonly Json[])[],
): string {
  const drawn: Drawn = {
    ...figureColumns(columns),
    names: columns.map(({ name }) => name),
    numeric: columns.map(({ type }) => type === 'number'),
    cells,
  };
  return draw(picture.kind, drawn, picture.template, figuresOf(columns));
}

/** A card with its answer as it is told to others: cells as JSON. */
export interface ToldCard {
  readonly card: Card;
  readonly columns: readonly (ColumnLike & { readonly name: string })[];
  readonly cells: readonly (readonly Json[])[];
  /** False where there are more rows than these. */
  readonly complete: boolean;
  /** Why it has no answer, in words. */
  readonly problem: string | null;
}

/** An answer from memory as it is told to others. */
export const toToldCard = ({ card, columns, rows, complete, error }: AnsweredCard): ToldCard => ({
  card,
  columns,
  cells: rows.map((row) => row.map((value, i) => jsonCell(value, columns[i]?.type ?? 'text'))),
  complete,
  problem: error === null ? null : `Line ${error.line}, column ${error.column}: ${error.message}`,
});

/** What a card shows: its picture, its rows, or why there is neither. */
export function drawCard({ card, columns, cells, problem, complete }: ToldCard): string {
  if (problem !== null) return `<p class="mistake">${safe(problem)}</p>`;
  if (cells.length === 0) return '<p class="soft">No rows in this window.</p>';
  const hidden = new Set(card.hide ?? []);
  const shown = columns.flatMap(({ name }, i) => (hidden.has(name) ? [] : [i]));
  const kept = shown.flatMap((i) => columns[i] ?? []);
  const body = drawRows(
    card.picture ?? { kind: 'rows' },
    kept,
    cells.map((row) => shown.map((i) => row[i] ?? null)),
  );
  return complete ? body : `${body}<p class="soft">The first ${cells.length} rows.</p>`;
}

function draw(kind: string, drawn: Drawn, template: string | undefined, figures: readonly number[]): string {
  const { keys, time, figure, cells } = drawn;
  switch (kind) {
    case 'number':
      return figure === null
        ? table(drawn)
        : `<p class="big">${safe(cellOf(cells[0]?.[figure] ?? null))}</p>`;
    case 'line':
    case 'area':
    case 'stacked':
      return time === null || figure === null ? table(drawn) : overTime(drawn, time, figure);
    case 'heat':
      return figure === null || keys.length + (time === null ? 0 : 1) < 2
        ? table(drawn)
        : heat(drawn, keys[0] ?? 0, time ?? keys[1] ?? 0, figure);
    case 'words':
      return figure === null ? table(drawn) : words(drawn, keys[0] ?? 0, figure);
    case 'sentences':
      return sentences(drawn, template ?? drawn.names.map((name) => `{${name}}`).join(' · '));
    case 'bars':
    case 'ranked':
    case 'paired':
    case 'dots':
      return table(drawn, figures[0]);
    default:
      return table(drawn);
  }
}

function table({ names, cells, numeric }: Drawn, barAt?: number): string {
  const most = barAt === undefined ? 1 : Math.max(1, ...cells.map((row) => Number(row[barAt] ?? 0)));
  const head = names
    .map((name, i) => `<th${numeric[i] === true ? ' class="num"' : ''}>${safe(name)}</th>`)
    .join('');
  const body = cells.slice(0, MAX_TABLE_ROWS).map((row) => {
    const bar =
      barAt === undefined
        ? ''
        : `<td class="bar"><i style="width:${((Number(row[barAt] ?? 0) / most) * 100).toFixed(1)}%"></i></td>`;
    return `<tr>${row.map((value, i) => `<td${numeric[i] === true ? ' class="num"' : ''}>${safe(cellOf(value))}</td>`).join('')}${bar}</tr>`;
  });
  const left = cells.length - MAX_TABLE_ROWS;
  return `<table><thead><tr>${head}${barAt === undefined ? '' : '<th></th>'}</tr></thead><tbody>${body.join('')}</tbody></table>${left > 0 ? `<p class="soft">${left} more rows.</p>` : ''}`;
}

function overTime({ keys, cells, names }: Drawn, time: number, figure: number): string {
  const [key] = keys;
  const totals = new Map<string, number>();
  const at = new Map<string, Map<string, number>>();
  for (const row of cells) {
    const name = key === undefined ? (names[figure] ?? '') : cellOf(row[key] ?? null);
    const value = Number(row[figure] ?? 0);
    totals.set(name, (totals.get(name) ?? 0) + value);
    const moment = cellOf(row[time] ?? null);
    const point = at.get(moment) ?? new Map<string, number>();
    point.set(name, (point.get(name) ?? 0) + value);
    at.set(moment, point);
  }
  const series = [...totals].sort((a, b) => b[1] - a[1]).map(([name]) => name);
  const colour = (name: string): string => SERIES[Math.min(series.indexOf(name), SERIES.length - 1)] ?? '';
  const points = [...at].sort(([a], [b]) => (a < b ? -1 : 1));
  const sums = points.map(([, values]) => [...values.values()].reduce((sum, value) => sum + value, 0));
  const most = Math.max(1, ...sums);
  const [width, height] = [600, 140];
  const slot = width / Math.max(1, points.length);
  const bars = points.flatMap(([moment, values], i) => {
    let top = 0;
    return series.flatMap((name) => {
      const value = values.get(name) ?? 0;
      if (value === 0) return [];
      top += value;
      const high = (value / most) * height;
      return [
        `<rect x="${(i * slot).toFixed(1)}" y="${(height - (top / most) * height).toFixed(1)}" width="${Math.max(0.6, slot * 0.84).toFixed(1)}" height="${high.toFixed(1)}" fill="${colour(name)}"><title>${safe(moment)} ${safe(name)}: ${safe(number(value))}</title></rect>`,
      ];
    });
  });
  const legend = series
    .slice(0, 8)
    .map(
      (name) =>
        `<span><i style="background:${colour(name)}"></i>${safe(name)} ${safe(number(totals.get(name) ?? 0))}</span>`,
    );
  return `<svg viewBox="0 0 ${width} ${height}" preserveAspectRatio="none" role="img" aria-label="${safe(names[figure] ?? '')} over time">${bars.join('')}</svg><p class="soft axis"><span>${safe(points[0]?.[0] ?? '')}</span><span>most ${safe(number(most))}</span><span>${safe(points.at(-1)?.[0] ?? '')}</span></p><p class="legend">${legend.join(' ')}</p>`;
}

function heat({ cells }: Drawn, downAt: number, acrossAt: number, figure: number): string {
  const values = new Map<string, number>();
  const [down, across] = [new Set<string>(), new Set<string>()];
  for (const row of cells) {
    const [one, other] = [cellOf(row[downAt] ?? null), cellOf(row[acrossAt] ?? null)];
    down.add(one);
    across.add(other);
    const key = JSON.stringify([one, other]);
    values.set(key, (values.get(key) ?? 0) + Number(row[figure] ?? 0));
  }
  const most = Math.max(1, ...values.values());
  const names = [...across].sort().slice(0, 48);
  const lines = [...down].slice(0, 40).map((one) => {
    const marks = names.map((other) => {
      const value = values.get(JSON.stringify([one, other])) ?? 0;
      const step = value === 0 ? 0 : Math.min(4, 1 + Math.floor((value / most) * 3.999));
      return `<td class="num" style="background:${HEAT[step]}${step >= 3 ? ';color:#fffaec' : ''}">${value === 0 ? '' : safe(number(value))}</td>`;
    });
    return `<tr><th>${safe(one)}</th>${marks.join('')}</tr>`;
  });
  return `<table><thead><tr><th></th>${names.map((name) => `<th class="num">${safe(name)}</th>`).join('')}</tr></thead><tbody>${lines.join('')}</tbody></table>`;
}

function words({ cells }: Drawn, key: number, figure: number): string {
  const ranked = [...cells].sort((a, b) => Number(b[figure] ?? 0) - Number(a[figure] ?? 0)).slice(0, 60);
  const most = Math.max(1, Number(ranked[0]?.[figure] ?? 0));
  return `<p class="words">${ranked
    .map(
      (row) =>
        `<span style="font-size:${(12 + 8 * (Number(row[figure] ?? 0) / most)).toFixed(1)}px">${safe(cellOf(row[key] ?? null))} <small>${safe(cellOf(row[figure] ?? null))}</small></span>`,
    )
    .join(' ')}</p>`;
}

function sentences({ names, cells }: Drawn, template: string): string {
  const parts = readTemplate(template);
  return `<ul>${cells
    .slice(0, MAX_TABLE_ROWS)
    .map((row) => {
      const said = parts.map(({ text, column, strong }) => {
        if (column === null) return safe(text);
        const value = safe(cellOf(row[names.indexOf(column)] ?? null));
        return strong ? `<b>${value}</b>` : `<code>${value}</code>`;
      });
      return `<li>${said.join('')}</li>`;
    })
    .join('')}</ul>`;
}

/** The looks of what is drawn here, for the page it stands on. */
export const CARD_STYLE = `
table{border-collapse:collapse;font-size:13px}th{background:#ebdec2;font-weight:500;text-align:left;padding:3px 8px}td{padding:3px 8px;border-bottom:1px solid #d9c8a5;overflow-wrap:anywhere}.num{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap;overflow-wrap:normal}
.bar{width:90px}.bar i{display:block;height:9px;background:#23477a}.big{margin:0;font:430 40px/1 Georgia,serif}.mistake{border-left:3px solid #832f33;padding-left:10px}
svg{display:block;width:100%;height:140px}.axis{display:flex;justify-content:space-between;margin:2px 0}.legend span{margin-right:9px;font-size:12px}.legend i{display:inline-block;width:10px;height:10px;margin-right:4px}
.words span{margin-right:13px;font-family:ui-monospace,monospace}.words small{font:12px system-ui,sans-serif;color:#55442f}ul{margin:0;padding:0;list-style:none}li{padding:4px 0;border-bottom:1px solid #d9c8a5}code{font-size:13px}
`;
