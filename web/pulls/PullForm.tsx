import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { putPull } from '../../core/wire/endpoints/pulls.js';
import type { Pull, PullSetting, PullTarget } from '../../core/wire/pulls.js';
import { call } from '../api/call.js';
import { FieldsForm, SwitchField, TextField } from '../kit/form.js';

const usual = { source: 60, list: 3600 } as const;

interface Values {
  readonly address: string;
  readonly everySeconds: string;
  readonly items: string;
  readonly next: string;
  readonly cursorParameter: string;
  readonly token: string;
  readonly enabled: boolean;
  readonly allowPrivate: boolean;
}

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
  const save = useMutation({
    mutationFn: ({ token, everySeconds, ...values }: Values) =>
      call(putPull, {
        params: { into, name },
        body: {
          ...values,
          address: values.address.trim(),
          items: values.items.trim(),
          next: values.next.trim(),
          cursorParameter: values.cursorParameter.trim(),
          everySeconds: Number(everySeconds),
          ...(token !== '' && { token }),
        } satisfies PullSetting,
      }),
    onSuccess: onDone,
  });
  return (
    <FieldsForm<Values>
      label="Pull"
      begin={{
        address: pull?.address ?? '',
        everySeconds: String(pull?.everySeconds ?? usual[into]),
        items: pull?.items ?? 'items',
        next: pull?.next ?? 'next',
        cursorParameter: pull?.cursorParameter ?? 'cursor',
        token: '',
        enabled: pull?.enabled ?? true,
        allowPrivate: pull?.allowPrivate ?? false,
      }}
      onSend={save.mutate}
      send={pull === null ? 'Begin to pull' : 'Save'}
      isSending={save.isPending}
      onCancel={onCancel}
      failure={save.error}
    >
      <TextField<Values> name="address" label="Address that answers JSON" className="mono" required />
      <TextField<Values>
        name="everySeconds"
        label="Seconds between two fetches"
        type="number"
        min={5}
        max={604_800}
        required
      />
      <TextField<Values>
        name="items"
        label="Where the items stand in an answer (empty: the answer itself)"
        className="mono"
      />
      <TextField<Values>
        name="next"
        label="Where the next cursor stands in it (empty: there is one page)"
        className="mono"
      />
      <TextField<Values> name="cursorParameter" label="Name the cursor is asked by" className="mono" />
      <TextField<Values>
        name="token"
        label={
          pull?.hasToken === true
            ? 'Bearer token (empty: it stays, unless the host changes)'
            : 'Bearer token, if it asks for one'
        }
        hint="It is kept sealed and never shown again."
        type="password"
        autoComplete="off"
      />
      <SwitchField<Values> name="enabled" label="Fetch by the clock" />
      <SwitchField<Values> name="allowPrivate" label="The address may lie inside this network" />
    </FieldsForm>
  );
}
