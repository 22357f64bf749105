import type { JSX } from 'react';
import { CellContent, firstColumns, inReadingOrder } from '../results/cells.js';
import { pickedText, type PickedValue } from '../results/menus/CellMenu.js';
import { isMarked, pickedOf } from '../results/pictures/picture.js';
import { showTime } from '../ui/format.js';
import { Outcome } from '../ui/Glyphs.js';
import type { CardAnswer } from './use-board-answers.js';

const ROW = 25;
const THEN: Readonly<Record<string, string>> = { 'got in': 'success', 'never got in': 'failure' };

/** The rows of a card as they are, as many as its room takes. */
export function CardRows({
  answer: { columns, rows, marked },
  zone,
  room,
  onPick,
}: {
  readonly answer: CardAnswer;
  readonly zone: string;
  readonly room: { readonly width: number; readonly height: number };
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
}): JSX.Element {
  const usual = firstColumns(columns, rows);
  const shown = inReadingOrder(columns).filter(({ name }) => usual.has(name));
  const fits = Math.max(1, Math.floor((room.height - ROW) / ROW));
  return (
    <div className="scrolls card-scroll">
      <table className="plain card-table">
        <thead>
          <tr>
            {shown.map((column) => (
              <th key={column.name} scope="col" className={column.type === 'number' ? 'num' : ''}>
                {column.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, Math.max(fits, 100)).map((row, r) => (
            <tr
              key={r}
              className={columns.some((column, i) => isMarked(marked, column, row[i])) ? 'carried-row' : ''}
            >
              {shown.map((column) => {
                const value = row[columns.indexOf(column)] ?? null;
                const outcome = column.field === null && typeof value === 'string' ? THEN[value] : undefined;
                return (
                  <td
                    key={column.name}
                    className={
                      column.type === 'number'
                        ? 'num'
                        : column.field === null && column.type === 'text'
                          ? 'cut'
                          : // Half a time is none.
                            column.type === 'time'
                            ? 'mono text-nowrap'
                            : 'mono cut'
                    }
                  >
                    <button
                      type="button"
                      className="value-button"
                      title={
                        typeof value !== 'string'
                          ? undefined
                          : column.type === 'time'
                            ? showTime(value, zone, 'log')
                            : value
                      }
                      onClick={(event) =>
                        onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY })
                      }
                    >
                      {column.type === 'time' && typeof value === 'string' ? (
                        showTime(value, zone, 'second')
                      ) : outcome === undefined ? (
                        <CellContent value={value} column={column} zone={zone} />
                      ) : (
                        <Outcome outcome={outcome} text={pickedText(value)} />
                      )}
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
