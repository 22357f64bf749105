import { useState, type JSX } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import type { HuntColumn } from '../../../core/wire/hunts.js';

/** Which columns are shown; a search finds one among the many that events have. */
export function ColumnsMenu({
  columns,
  shown,
  onChange,
}: {
  columns: readonly HuntColumn[];
  shown: ReadonlySet<string>;
  onChange: (shown: ReadonlySet<string>) => void;
}): JSX.Element {
  const [search, setSearch] = useState('');
  const found = columns.filter(({ name }) => name.toLowerCase().includes(search.toLowerCase()));
  const toggle = (name: string): void => {
    const next = new Set(shown);
    if (!next.delete(name)) next.add(name);
    if (next.size > 0) onChange(next);
  };
  return (
    <Dropdown autoClose="outside" align="end">
      <Dropdown.Toggle as="button" type="button" className="link sm">
        Columns
      </Dropdown.Toggle>
      <Dropdown.Menu style={{ padding: '6px 0', width: 260 }}>
        <div className="px-2 pb-1">
          <Form.Control
            aria-label="Find a column"
            placeholder="Find a column"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </div>
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
