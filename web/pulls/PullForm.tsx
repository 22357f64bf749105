import { useMutation } from '@tanstack/react-query';
import type { JSX } from 'react';
import { putPull } from '../../core/wire/endpoints/pulls.js';
import { indicatorKinds, type Pull, type PullSetting, type PullTarget } from '../../core/wire/pulls.js';
import { call } from '../api/call.js';
import { ChoiceField, FieldsForm, SwitchField, TextField } from '../kit/form.js';

const usual = { source: 60, list: 3600 } as const;

interface Values {
  readonly address: string;
  readonly everySeconds: string;
  readonly items: string;
  readonly next: string;
  readonly cursorParameter: string;
  readonly token: string;
  readonly speaks: 'json' | 'taxii';
  readonly follow: 'cursor' | 'link';
  readonly sinceParameter: string;
  readonly overlapSeconds: string;
  readonly tokenAddress: string;
  readonly clientId: string;
  readonly scope: string;
  readonly kind: string;
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
    mutationFn: ({ token, everySeconds, overlapSeconds, kind, ...values }: Values) =>
      call(putPull, {
        params: { into, name },
        body: {
          ...values,
          address: values.address.trim(),
          items: values.items.trim(),
          next: values.next.trim(),
          cursorParameter: values.cursorParameter.trim(),
          everySeconds: Number(everySeconds),
          overlapSeconds: Number(overlapSeconds),
          tokenAddress: values.tokenAddress.trim(),
          kind: kind === '' ? null : (kind as NonNullable<PullSetting['kind']>),
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
        speaks: pull?.speaks ?? 'json',
        follow: pull?.follow ?? 'cursor',
        sinceParameter: pull?.sinceParameter ?? '',
        overlapSeconds: String(pull?.overlapSeconds ?? 0),
        tokenAddress: pull?.tokenAddress ?? '',
        clientId: pull?.clientId ?? '',
        scope: pull?.scope ?? '',
        kind: pull?.kind ?? '',
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
      <details>
        <summary className="sm">More ways to ask</summary>
        <div className="d-grid gap-2 pt-2">
          {into === 'list' && (
            <>
              <ChoiceField<Values>
                name="speaks"
                label="The address is"
                choices={[
                  ['json', 'any that answers JSON'],
                  ['taxii', 'a collection of indicators (TAXII 2.1)'],
                ]}
                hint="Of a collection only what was added is fetched; what is withdrawn there goes here too."
              />
              <ChoiceField<Values>
                name="kind"
                label="Of the indicators, this list takes"
                choices={[['', 'all'], ...indicatorKinds.map((one) => [one, one] as const)]}
              />
            </>
          )}
          <ChoiceField<Values>
            name="follow"
            label="Pages follow"
            choices={[
              ['cursor', 'by the cursor in the answer'],
              ['link', 'by the Link header'],
            ]}
          />
          {into === 'source' && (
            <>
              <TextField<Values>
                name="sinceParameter"
                label="Name under which it is asked for what came since the last run (empty: it is not)"
                className="mono"
              />
              <TextField<Values>
                name="overlapSeconds"
                label="Seconds of the last run that are asked for again"
                hint="For feeds that fill in late; what is known already is not stored twice."
                type="number"
                min={0}
                max={604_800}
              />
            </>
          )}
          <TextField<Values>
            name="tokenAddress"
            label="Address that gives access tokens by client credentials (empty: the token below is sent itself)"
            className="mono"
          />
          <TextField<Values> name="clientId" label="Client id" className="mono" />
          <TextField<Values> name="scope" label="Scope" className="mono" />
        </div>
      </details>
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
