import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { changeListRows } from '../../../core/wire/endpoints/lists.js';
import type { ListPage, ListSummary } from '../../../core/wire/lists.js';
import { call } from '../../api/call.js';
import { FieldsForm, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';

const textOf = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'string' ? value : JSON.stringify(value);

/** What is typed, in the order of the columns: their names may hold anything. */
interface Values {
  readonly cells: { readonly text: string }[];
  readonly expires: string;
}

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
  const save = useMutation({
    mutationFn: ({ cells, expires }: Values) => {
      const given = columns
        .map((column, i): [string, string] => [column, cells[i]?.text ?? ''])
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
  return (
    <FieldsForm<Values>
      label={row === null ? 'Add a row' : 'Edit a row'}
      className="inset py-2 ruled-top"
      begin={{
        cells: columns.map((column) => ({ text: textOf(before[column]) })),
        expires: row?.expires ?? '',
      }}
      onSend={save.mutate}
      send={row === null ? 'Add it' : 'Save'}
      isSending={save.isPending}
      onCancel={onCancel}
      failure={save.error ?? remove.error}
      also={
        row !== null && (
          <RemoveButton
            label="Remove"
            what="the row"
            className="btn btn-sm btn-outline-secondary ms-auto"
            disabled={remove.isPending}
            onRemove={() => remove.mutate()}
          />
        )
      }
    >
      <div className="d-grid gap-2 pb-2 row-fields">
        {columns.map((column, i) => (
          <TextField<Values>
            key={column}
            name={`cells.${i}.text`}
            label={<span className="xs mono">{column}</span>}
            className="mono"
            autoFocus={i === 0}
            required={column === list.key}
          />
        ))}
        <TextField<Values>
          name="expires"
          label={<span className="xs">holds until (empty: always)</span>}
          className="mono"
          placeholder="2027-01-31"
        />
      </div>
    </FieldsForm>
  );
}
