import { useMutation } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { putPull } from '../../core/wire/endpoints/pulls.js';
import type { Pull, PullSetting, PullTarget } from '../../core/wire/pulls.js';
import { call } from '../api/call.js';
import { Failed } from '../ui/State.js';

const usual = { source: 60, list: 3600 } as const;

/** Where something is pulled from, how often, and where in an answer things stand. */
export function PullForm({
  into,
  name,
  pull,
  onDone,
  onCancel,
}: {
  into: PullTarget;
  name: string;
  /** The one that is changed; null for a new one. */
  pull: Pull | null;
  onDone: () => void;
  onCancel: () => void;
}): JSX.Element {
  const [address, setAddress] = useState(pull?.address ?? '');
  const [every, setEvery] = useState(String(pull?.everySeconds ?? usual[into]));
  const [items, setItems] = useState(pull?.items ?? 'items');
  const [next, setNext] = useState(pull?.next ?? 'next');
  const [cursor, setCursor] = useState(pull?.cursorParameter ?? 'cursor');
  const [token, setToken] = useState('');
  const [enabled, setEnabled] = useState(pull?.enabled ?? true);
  const [allowPrivate, setAllowPrivate] = useState(pull?.allowPrivate ?? false);
  const save = useMutation({
    mutationFn: () =>
      call(putPull, {
        params: { into, name },
        body: {
          address: address.trim(),
          everySeconds: Number(every),
          items: items.trim(),
          next: next.trim(),
          cursorParameter: cursor.trim(),
          enabled,
          allowPrivate,
          ...(token !== '' && { token }),
        } satisfies PullSetting,
      }),
    onSuccess: onDone,
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    save.mutate();
  };
  const field = (
    id: string,
    label: string,
    value: string,
    set: (text: string) => void,
    more: object = {},
  ): JSX.Element => (
    <Form.Group controlId={`pull-${id}`}>
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Control size="sm" value={value} onChange={(event) => set(event.target.value)} {...more} />
    </Form.Group>
  );
  const mono = { className: 'mono' };
  return (
    <form onSubmit={submit} className="inset d-grid gap-2 py-2" aria-label="Pull">
      {field('address', 'Address that answers JSON', address, setAddress, { ...mono, required: true })}
      {field('every', 'Seconds between two fetches', every, setEvery, {
        type: 'number',
        min: 5,
        max: 604_800,
        required: true,
      })}
      {field('items', 'Where the items stand in an answer (empty: the answer itself)', items, setItems, mono)}
      {field('next', 'Where the next cursor stands in it (empty: there is one page)', next, setNext, mono)}
      {field('cursor', 'Name the cursor is asked by', cursor, setCursor, mono)}
      {field(
        'token',
        pull?.hasToken === true
          ? 'Bearer token (empty: it stays, unless the host changes)'
          : 'Bearer token, if it asks for one',
        token,
        setToken,
        { type: 'password', autoComplete: 'off' },
      )}
      <Form.Check
        id="pull-enabled"
        type="switch"
        className="sm"
        label="Fetch by the clock"
        checked={enabled}
        onChange={(event) => setEnabled(event.target.checked)}
      />
      <Form.Check
        id="pull-inside"
        type="switch"
        className="sm"
        label="The address may lie inside this network"
        checked={allowPrivate}
        onChange={(event) => setAllowPrivate(event.target.checked)}
      />
      <p className="xs soft">The token is kept sealed and never shown again.</p>
      <div className="d-flex gap-2">
        <Button size="sm" type="submit" variant="primary" disabled={save.isPending}>
          {pull === null ? 'Begin to pull' : 'Save'}
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={onCancel}>
          Cancel
        </Button>
      </div>
      {save.isError && <Failed title="Nothing was changed">{save.error.message}</Failed>}
    </form>
  );
}
