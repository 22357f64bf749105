import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { changeListRows, listLists } from '../../../core/wire/endpoints/lists.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import { about, answerTo, call } from '../../api/call.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { ChoiceField, TextField } from '../../kit/form.js';
import { Empty } from '../../ui/State.js';

interface Addition {
  readonly list: string;
  readonly note: string;
}

/** Puts a value on a list, with a word on why. */
export function AddToList({ value, onClose }: { value: string; onClose: () => void }): JSX.Element {
  const client = useQueryClient();
  const lists = useQuery(answerTo(listLists));
  const all = lists.data?.lists ?? [];
  const add = useMutation({
    mutationFn: ({ list, note }: { readonly list: ListSummary; readonly note: string }) =>
      call(changeListRows, {
        params: { list: list.name },
        body: { add: [{ [list.key]: value, ...(note !== '' && { note }) }] },
      }),
    onSuccess: () => {
      void client.invalidateQueries(about('lists'));
      onClose();
    },
  });
  return (
    <FieldsDialog<Addition>
      title="Add to a list"
      begin={{ list: '', note: '' }}
      onSend={({ list: chosen, note }) => {
        const list = all.find(({ name }) => name === chosen) ?? all[0];
        if (list !== undefined) add.mutate({ list, note: note.trim() });
      }}
      send="Add"
      maySend={() => all.length > 0}
      isSending={add.isPending}
      failure={add.error}
      failed="It was not added"
      onClose={onClose}
    >
      <p className="mono anywhere mb-0">{value}</p>
      {lists.isSuccess && all.length === 0 && (
        <Empty title="There is no list yet">Make one under Lists first.</Empty>
      )}
      <ChoiceField<Addition>
        name="list"
        label="List"
        autoFocus
        choices={all.map(({ name, match }) => [name, `${name} (${match})`])}
      />
      <TextField<Addition> name="note" label="Why, in the column note" maxLength={500} />
    </FieldsDialog>
  );
}
