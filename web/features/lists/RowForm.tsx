import { useMutation } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { changeListRows } from '../../../core/wire/endpoints/lists.js';
import type { ListPage, ListSummary } from '../../../core/wire/lists.js';
import { call } from '../../api/call.js';
import { RemoveButton } from '../../ui/RemoveButton.js';
import { Failed } from '../../ui/State.js';

const textOf = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);

/** Adds a row, or puts one in place of another. */
export function RowForm({
  list,
  columns,
  row,
  onDone,
  onCancel,
}: {
  list: ListSummary;
  columns: readonly string[];
  row: ListPage['rows'][number] | null;
  onDone: () => void;
  onCancel: () => void;
}): JSX.Element {
  const before = (row?.cells ?? {}) as Record<string, unknown>;
  const [cells, setCells] = useState<Record<string, string>>(
    Object.fromEntries(columns.map((column) => [column, textOf(before[column])])),
  );
  const [expires, setExpires] = useState(row?.expires ?? '');
  const save = useMutation({
    mutationFn: () => {
      const given = Object.entries(cells)
        .filter(([column, text]) => text !== '' || column === list.key)
        // What was no text and has not been touched stays what it was.
        .map(([column, text]) => [
          column,
          text === textOf(before[column]) && column in before ? before[column] : text,
        ]);
      const made = {
        ...(Object.fromEntries(given) as Record<string, unknown>),
        ...(expires.trim() !== '' && { expires: expires.trim() }),
      };
      return call(changeListRows, {
        params: { list: list.name },
        body: { add: [made], ...(row !== null && { remove: [row.position] }) },
      });
    },
    onSuccess: onDone,
  });
  const remove = useMutation({
    mutationFn: () =>
      call(changeListRows, { params: { list: list.name }, body: { remove: [row?.position ?? -1] } }),
    onSuccess: onDone,
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form
      className="inset py-2 ruled-top"
      onSubmit={submit}
      aria-label={row === null ? 'Add a row' : 'Edit a row'}
    >
      <div className="d-grid gap-2" style={{ gridTemplateColumns: 'repeat(auto-fill, minmax(180px, 1fr))' }}>
        {columns.map((column, i) => (
          <Form.Group key={column} controlId={`row-${column}`}>
            <Form.Label className="xs mb-0 mono">{column}</Form.Label>
            <Form.Control
              size="sm"
              className="mono"
              autoFocus={i === 0}
              required={column === list.key}
              value={cells[column] ?? ''}
              onChange={(event) => setCells({ ...cells, [column]: event.target.value })}
            />
          </Form.Group>
        ))}
        <Form.Group controlId="row-expires">
          <Form.Label className="xs mb-0">holds until (empty: always)</Form.Label>
          <Form.Control
            size="sm"
            className="mono"
            placeholder="2027-01-31"
            value={expires}
            onChange={(event) => setExpires(event.target.value)}
          />
        </Form.Group>
      </div>
      {remove.isError && <Failed title="The row was not removed">{remove.error.message}</Failed>}
      {save.isError && <Failed title="Nothing was changed">{save.error.message}</Failed>}
      <div className="d-flex gap-2 pt-2">
        <Button size="sm" type="submit" variant="primary" disabled={save.isPending}>
          {row === null ? 'Add it' : 'Save'}
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={onCancel}>
          Leave it
        </Button>
        {row !== null && (
          <RemoveButton
            label="Remove"
            what="the row"
            className="btn btn-sm btn-outline-secondary ms-auto"
            disabled={remove.isPending}
            onRemove={() => remove.mutate()}
          />
        )}
      </div>
    </form>
  );
}
