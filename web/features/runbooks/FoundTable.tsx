import type { JSX } from 'react';
import { Link } from 'react-router';
import type { FoundRows } from '../../../core/wire/runbooks.js';
import { withHunt } from './hunt-link.js';

/** The first rows that the hunt of a step found. */
export function FoundTable({ found, search }: { found: FoundRows; search: string }): JSX.Element | null {
  if (found.rows.length === 0) return null;
  return (
    <div className="run-found">
      <table className="table table-sm mb-0">
        <thead>
          <tr>
            {found.columns.map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.rows.map((row, i) => (
            // Rows of one answer never change their places.
            <tr key={i}>
              {row.map((value, at) => (
                <td key={found.columns[at]} className="mono" title={value}>
                  {value}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Link className="xs" to={withHunt(search, found)}>
        Read it as a hunt
      </Link>
    </div>
  );
}
