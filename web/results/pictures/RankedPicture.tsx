import type { JSX } from 'react';
import { CellContent } from '../cells.js';
import { figure, isMarked, pickedOf, type PictureProps } from './picture.js';
import { nameOf, shapeOf } from './shape.js';

/** Who most: every column of the rows, and the share of each in what is shown as a bar. */
export function RankedPicture({ columns, rows, zone, onPick, options, marked }: PictureProps): JSX.Element {
  const { keys, figure: figureAt } = shapeOf(columns);
  const at = figureAt ?? 0;
  const total = rows.reduce((sum, row) => sum + Number(row[at] ?? 0), 0);
  const most = Math.max(1, ...rows.map((row) => Number(row[at] ?? 0)));
  const shown = columns.flatMap((column, i) => (i === at ? [] : [{ column, i }]));
  return (
    <table className="plain card-table">
      <thead>
        <tr>
          {shown.map(({ column }) => (
            <th key={column.name} scope="col">
              {column.name}
            </th>
          ))}
          <th scope="col" className="num">
            {columns[at]?.name}
          </th>
          <th scope="col" colSpan={2}>
            share
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row, r) => (
          <tr
            key={r}
            className={keys.some((key) => isMarked(marked, columns[key], row[key])) ? 'carried-row' : ''}
          >
            {shown.map(({ column, i }) => (
              <td key={column.name} className="mono cut">
                <button
                  type="button"
                  className="value-button"
                  title={nameOf(row[i])}
                  onClick={(event) =>
                    onPick(pickedOf(columns, column, row), { x: event.clientX, y: event.clientY })
                  }
                >
                  <CellContent value={row[i] ?? null} column={column} zone={zone} />
                </button>
              </td>
            ))}
            <td className="num">{figure(Number(row[at] ?? 0), options?.unit)}</td>
            <td className="share-bar">
              <i style={{ width: `${(Number(row[at] ?? 0) / most) * 100}%` }} />
            </td>
            <td className="num share">
              {total === 0 ? '' : `${((Number(row[at] ?? 0) / total) * 100).toFixed(1)}%`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
