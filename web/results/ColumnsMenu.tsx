import { useState, type JSX } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import type { HuntColumn } from '../../core/wire/hunts.js';

/** More keys than this make no table that anyone reads. */
const MAX_KEYS = 8;

/** Which columns are shown; a search finds one among the many that events have. */
export function ColumnsMenu({
  columns,
  shown,
  onChange,
  onTally,
}: {
  columns: readonly HuntColumn[];
  shown: ReadonlySet<string>;
  onChange: (shown: ReadonlySet<string>) => void;
  /** Counts rows per the columns that are shown; absent where that makes no sense. */
  onTally?: ((names: readonly string[]) => void) | undefined;
}): JSX.Element {
  const [search, setSearch] = useState('');
  const found = columns.filter(({ name }) => name.toLowerCase().includes(search.toLowerCase()));
  const toggle = (name: string): void => {
    const next = new Set(shown);
    if (!next.delete(name)) next.add(name);
    onChange(next);
  };
  const keys = columns.map(({ name }) => name).filter((name) => shown.has(name) && name !== 'time');
  return (
    <Dropdown autoClose="outside" align="end">
      <Dropdown.Toggle as="button" type="button" className="link sm">
        Columns
      </Dropdown.Toggle>
      <Dropdown.Menu className="menu-list">
        <div className="px-2 pb-1">
          <Form.Control
            aria-label="Find a column"
            placeholder="Find a column"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </div>
        <p className="px-3 pb-1 mb-0 d-flex gap-3">
          <button type="button" className="link xs" onClick={() => onChange(new Set())}>
            none
          </button>
          <button
            type="button"
            className="link xs"
            onClick={() => onChange(new Set(columns.map(({ name }) => name)))}
          >
            all
          </button>
          {onTally !== undefined && keys.length > 0 && keys.length <= MAX_KEYS && (
            <button
              type="button"
              className="link xs"
              title={`tally count() per ${keys.join(', ')}`}
              onClick={() => onTally(keys)}
            >
              tally per these
            </button>
          )}
        </p>
        <div className="menu-scroll">
          {found.map(({ name }) => (
            <Form.Check
              key={name}
              className="ms-3 mono sm"
              type="checkbox"
              id={`column-${name}`}
              label={name}
              checked={shown.has(name)}
              onChange={() => toggle(name)}
            />
          ))}
          {found.length === 0 && <p className="sm soft px-3">No column has this in its name.</p>}
        </div>
      </Dropdown.Menu>
    </Dropdown>
  );
}
