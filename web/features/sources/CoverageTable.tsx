import type { JSX } from 'react';
import type { RecipeTried } from '../../../core/wire/sources.js';
import { Empty } from '../../ui/State.js';

/** What becomes of each field of the sample: mapped, looked at, or left, with columns it may belong to. */
export function CoverageTable({
  tried,
  onMap,
}: {
  tried: RecipeTried | null;
  /** Maps a column to a field; null for those who may not. */
  onMap: ((column: string, field: string) => void) | null;
}): JSX.Element {
  const coverage = tried?.coverage ?? [];
  if (coverage.length === 0)
    return (
      <Empty title="No field could be read">
        {tried?.mistake != null
          ? 'The recipe has a mistake; mend it first.'
          : 'Paste a record, or choose another format in the recipe.'}
      </Empty>
    );
  const mapped = coverage.filter(({ columns }) => columns.length > 0).length;
  const used = coverage.filter((one) => one.used && one.columns.length === 0).length;
  const suggested = new Map(tried?.suggestions.map((one) => [one.field, one]));
  const unread = new Map<string, number>();
  for (const { unread: columns } of tried?.records ?? [])
    for (const column of columns) unread.set(column, (unread.get(column) ?? 0) + 1);
  return (
    <>
      <p className="inset sm py-1 ruled-top">
        <b>{coverage.length}</b> fields: {mapped} mapped, {used} only looked at,{' '}
        {coverage.length - mapped - used} left under original
        {unread.size > 0 && (
          <span className="problem">
            {' '}
            · not readable: {Array.from(unread, ([column, times]) => `${column} (${times})`).join(', ')}
          </span>
        )}
      </p>
      <table className="table dense fixed-columns">
        <thead>
          <tr>
            <th>field and example</th>
            <th style={{ width: 150 }}>becomes</th>
          </tr>
        </thead>
        <tbody>
          {coverage.map((one) => {
            const suggestion = suggested.get(one.field);
            return (
              <tr key={one.field}>
                <td className="h-auto">
                  <span className="mono queue-title">{one.field}</span>
                  <span className="queue-subject mono xs">{one.example}</span>
                </td>
                <td className="sm text-wrap">
                  {one.columns.length > 0 ? (
                    <span className="mono">{one.columns.join(', ')}</span>
                  ) : suggestion !== undefined && onMap !== null ? (
                    <button
                      type="button"
                      className="link"
                      title={suggestion.because}
                      onClick={() => onMap(suggestion.column, one.field)}
                    >
                      map to {suggestion.column}
                    </button>
                  ) : (
                    <span className="absent">{one.used ? 'looked at' : 'left'}</span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
