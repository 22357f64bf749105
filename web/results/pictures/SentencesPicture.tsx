import type { JSX } from 'react';
import type { Json } from '../../../core/base/json.js';
import { DateTime } from 'luxon';
import { readTemplate } from '../../../core/boards/sentence.js';
import { cellText } from '../cells.js';
import { pickedOf, type PictureProps } from './picture.js';
import { columnCalled, shapeOf } from './shape.js';

/** Rows as sentences: a row becomes words by a template, its names stay names, and its time stands at the right. */
export function SentencesPicture({ columns, rows, zone, onPick, options }: PictureProps): JSX.Element {
  const { time } = shapeOf(columns);
  const parts = readTemplate(
    options?.template ??
      columns
        .filter((_, i) => i !== time)
        .map(({ name }) => `{${name}}`)
        .join(' · '),
  );
  const [one, other] = (options?.same?.columns ?? []).map((name) => columnCalled(columns, name));
  return (
    <ul className="sentences">
      {rows.map((row, r) => {
        const moment = time === null ? null : row[time];
        const same = one !== undefined && other !== undefined && row[one] !== null && row[one] === row[other];
        return (
          <li key={r}>
            {(same || typeof moment === 'string') && (
              <span className="sentence-end xs soft">
                {same && <span className="own-mark">{options?.same?.words}</span>}
                {typeof moment === 'string' && <span title={moment}> {shortTime(moment, zone)}</span>}
              </span>
            )}
            {parts.map((part, i) => {
              if (part.column === null) return <span key={i}>{part.text}</span>;
              const at = columnCalled(columns, part.column);
              const column = columns[at];
              if (column === undefined) return <span key={i} className="soft">{`{${part.column}}`}</span>;
              const value: Json = row[at] ?? null;
              if (column.field === null && column.type === 'text' && !part.strong)
                return <span key={i}>{cellText(value, column, zone)}</span>;
              if (value === null)
                return (
                  <span key={i} className="soft">
                    nobody known
                  </span>
                );
              return (
                <button
                  key={i}
                  type="button"
                  className={
                    part.strong
                      ? 'value-button strong'
                      : typeof value === 'number'
                        ? 'value-button num'
                        : 'value-button mono'
                  }
                  onClick={(event) =>
                    onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY })
                  }
                >
                  {cellText(value, column, zone)}
                </button>
              );
            })}
          </li>
        );
      })}
    </ul>
  );
}

/** The hour of today's, and the day of others'. */
function shortTime(moment: string, zone: string): string {
  const time = DateTime.fromISO(moment, { zone });
  return time.toFormat(time.hasSame(DateTime.now().setZone(zone), 'day') ? 'HH:mm' : 'd LLL HH:mm');
}
