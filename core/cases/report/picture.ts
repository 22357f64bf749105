import { isJsonObject, type Json } from '../../base/json.js';
import { CARD_STYLE, drawRows } from '../../boards/draw-card.js';

/** Pictures that say on paper what their rows do not say as well; all others are read as evidence tables. */
const DRAWN: ReadonlySet<string> = new Set([
  'number',
  'line',
  'area',
  'stacked',
  'heat',
  'words',
  'sentences',
  'bars',
  'ranked',
]);
/** Kinds that draw a line for each row: on paper the first say enough. */
const BY_ROWS: ReadonlySet<string> = new Set(['sentences', 'bars', 'ranked']);
const MAX_BY_ROWS = 12;
const MAX_ROWS = 2000;

/** The looks of pictures on paper, whose colours are printed, too. */
export const PICTURE_STYLE = `
figure { margin: 0 0 5mm; break-inside: avoid;
${CARD_STYLE}
& svg { height: 34mm; margin: 1mm 0; }
& table { width: auto; }
& * { print-color-adjust: exact; -webkit-print-color-adjust: exact; }
}
figcaption { margin-bottom: 1mm; font-weight: 600; overflow-wrap: anywhere; }
`;

/**
 * A snapshot drawn as its card showed it when it was pinned.
 * @param frozen what was frozen of the pin
 * @returns HTML in which all outside text is escaped; null for what was no picture, or says no more than its rows
 */
export function pictureOf(frozen: Json | null): string | null {
  const snapshot = isJsonObject(frozen) ? (frozen['snapshot'] ?? null) : null;
  if (!isJsonObject(snapshot)) return null;
  const { picture, columns, rows } = snapshot;
  if (!isJsonObject(picture ?? null) || !Array.isArray(columns) || !Array.isArray(rows)) return null;
  const { kind, template, hide } = picture as { readonly [name: string]: Json };
  if (typeof kind !== 'string' || !DRAWN.has(kind) || rows.length === 0) return null;
  const hidden = new Set(Array.isArray(hide) ? hide : []);
  const shown = columns.flatMap((column, at) => {
    if (!isJsonObject(column)) return [];
    const { name, type, field } = column;
    return typeof name !== 'string' || typeof type !== 'string' || hidden.has(name)
      ? []
      : [{ at, name, type, field: typeof field === 'string' ? field : null }];
  });
  const cells = rows
    .slice(0, BY_ROWS.has(kind) ? MAX_BY_ROWS : MAX_ROWS)
    .flatMap((row: Json) =>
      Array.isArray(row) ? [shown.map(({ at }): Json => (row as readonly Json[])[at] ?? null)] : [],
    );
  const drawn = drawRows({ kind, ...(typeof template === 'string' && { template }) }, shown, cells);
  return rows.length > cells.length
    ? `${drawn}<p class="soft">The first ${cells.length} of ${rows.length.toLocaleString('en')} rows.</p>`
    : drawn;
}
