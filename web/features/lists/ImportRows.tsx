import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { importList, previewList } from '../../../core/wire/endpoints/lists.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import { about, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { TextField } from '../../kit/form.js';
import { counted } from '../../ui/format.js';
import { type Import, RowsToImport } from './RowsToImport.js';

const NOTHING: Import = {
  name: '',
  description: '',
  text: '',
  key: '',
  match: 'exact',
  how: 'add',
  split: true,
};

/** Makes a list, or takes rows into one, from pasted text or a file: first shown as it will be read. */
export function ImportRows({
  label,
  list,
  onDone,
}: {
  label: string;
  list?: ListSummary;
  onDone: (name: string) => void;
}): JSX.Element | null {
  const person = usePerson();
  const [open, setOpen] = useState(false);
  if (person.role === 'reader') return null;
  return (
    <>
      <Button
        size="sm"
        variant={list === undefined ? 'primary' : 'outline-secondary'}
        onClick={() => setOpen(true)}
      >
        {label}
      </Button>
      {open && (
        <ImportDialog
          list={list}
          onClose={(made) => {
            setOpen(false);
            if (made !== null) onDone(made);
          }}
        />
      )}
    </>
  );
}

function ImportDialog({
  list,
  onClose,
}: {
  list: ListSummary | undefined;
  /** @param made the list that rows came into, if any did */
  onClose: (made: string | null) => void;
}): JSX.Element {
  const client = useQueryClient();
  const preview = useMutation({
    mutationFn: ({ text, heading }: { text: string; heading?: boolean }) =>
      call(previewList, { body: { text, ...(heading !== undefined && { heading }) } }),
  });
  const take = useMutation({
    mutationFn: ({ name, description, text, key, match, how, split }: Import) => {
      const isSplit = list === undefined && split && (preview.data?.kinds.length ?? 0) > 1;
      return call(importList, {
        params: { list: list?.name ?? name },
        body: {
          text,
          ...(preview.data?.headed != null && { heading: preview.data.headed }),
          ...(isSplit && { split: true }),
          key: list?.key ?? (isSplit ? (preview.data?.mixed ?? key) : key),
          match: list?.match ?? match,
          how: list === undefined ? 'replace' : how,
          ...(list === undefined && description !== '' && { description }),
        },
      });
    },
    onSuccess: () => client.invalidateQueries(about('lists')),
  });
  const { data: taken } = take;
  return (
    <FieldsDialog<Import>
      title={list === undefined ? 'New list' : `Import into ${list.name}`}
      begin={NOTHING}
      onSend={(what) => take.mutate(what)}
      send="Take them in"
      maySend={({ text }) => text.trim() !== '' && preview.isSuccess}
      isSending={take.isPending}
      failure={take.error}
      done={
        taken && (
          <>
            Taken in: {taken.lists.length === 1 ? 'the list has' : `${taken.lists.join(', ')} have`}{' '}
            {counted(taken.rows, 'row')}.
          </>
        )
      }
      size="lg"
      onClose={() => onClose(taken === undefined ? null : (taken.lists[0] ?? take.variables?.name ?? null))}
    >
      {list === undefined && (
        <div className="d-grid gap-2 name-and-words">
          <TextField<Import>
            name="name"
            label="Name"
            required
            autoFocus
            pattern="[A-Za-z0-9_.\-]{1,100}"
            title="Letters, digits, _ . -"
          />
          <TextField<Import> name="description" label="What it is for" maxLength={1000} />
        </div>
      )}
      <RowsToImport
        list={list}
        preview={preview.data}
        unreadable={preview.error}
        onRead={(text, heading) => {
          if (text.trim() === '') preview.reset();
          else preview.mutate({ text, ...(heading !== undefined && { heading }) });
        }}
      />
    </FieldsDialog>
  );
}
