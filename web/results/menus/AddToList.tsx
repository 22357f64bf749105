import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { changeListRows, listLists } from '../../../core/wire/endpoints/lists.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import { about, answerTo, call } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { Empty, Failed } from '../../ui/State.js';

/** Puts a value on a list, with a word on why. */
export function AddToList({ value, onClose }: { value: string; onClose: () => void }): JSX.Element {
  const client = useQueryClient();
  const lists = useQuery(answerTo(listLists));
  const [chosen, setChosen] = useState('');
  const [note, setNote] = useState('');
  const all = lists.data?.lists ?? [];
  const list = all.find(({ name }) => name === chosen) ?? all[0];
  const add = useMutation({
    mutationFn: (to: ListSummary) =>
      call(changeListRows, {
        params: { list: to.name },
        body: { add: [{ [to.key]: value, ...(note.trim() !== '' && { note: note.trim() }) }] },
      }),
    onSuccess: () => {
      void client.invalidateQueries(about('lists'));
      onClose();
    },
  });
  const send = (): void => {
    if (list !== undefined) add.mutate(list);
  };
  return (
    <Dialog
      onSend={send}
      title="Add to a list"
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="primary" disabled={list === undefined || add.isPending}>
            Add
          </Button>
        </>
      }
    >
      <p className="mono anywhere">{value}</p>
      {add.isError && <Failed title="It was not added">{add.error.message}</Failed>}
      {lists.isSuccess && all.length === 0 && (
        <Empty title="There is no list yet">Make one under Lists first.</Empty>
      )}
      <Form.Group controlId="add-list" className="pb-2">
        <Form.Label className="sm mb-0">List</Form.Label>
        <Form.Select autoFocus value={list?.name ?? ''} onChange={(event) => setChosen(event.target.value)}>
          {all.map(({ name, match }) => (
            <option key={name} value={name}>
              {name} ({match})
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="add-note">
        <Form.Label className="sm mb-0">Why, in the column note</Form.Label>
        <Form.Control value={note} maxLength={500} onChange={(event) => setNote(event.target.value)} />
      </Form.Group>
    </Dialog>
  );
}
