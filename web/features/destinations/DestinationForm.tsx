import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useWatch } from 'react-hook-form';
import {
  type DestinationBody,
  destinationKinds,
  type DestinationWire,
} from '../../../core/wire/deliveries.js';
import {
  putDestination,
  removeDestination,
  tryDestination,
} from '../../../core/wire/endpoints/destinations.js';
import { about, call } from '../../api/call.js';
import { ChoiceField, FieldsForm, SwitchField, TextField } from '../../kit/form.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { counted } from '../../ui/format.js';
import { kindWords } from './kind-words.js';

type Kind = DestinationBody['kind'];

const examples: Readonly<Record<Kind, string>> = {
  chat: 'https://chat.example/rooms/watch',
  mail: 'smtp://mail.example:25',
  webhook: 'https://sink.example/alerts',
  syslog: 'tcp://collector.example:514',
  program: 'block.sh',
  identity: 'https://directory.example/identity',
  firewall: 'https://firewall.example/api',
  agent: 'https://agents.example/api',
  cloud: 'https://rights.example/api',
};

/** Kinds that are told something; the others do something, which nobody tries for fun. */
const tells: ReadonlySet<string> = new Set(['chat', 'mail', 'webhook', 'syslog']);
/** Kinds that nothing is sent to by HTTP. */
const withoutRequests: ReadonlySet<string> = new Set(['mail', 'syslog', 'program']);

interface Values {
  name: string;
  kind: Kind;
  address: string;
  to: string;
  from: string;
  user: string;
  secret: string;
  secretAs: 'signature' | 'bearer';
  allowPrivate: boolean;
}

/** Settings of a kind; what is empty is not sent. */
function settingsOf({ kind, to, from, user, secretAs }: Values): Record<string, string> {
  const given: Record<string, string> =
    kind === 'mail'
      ? { to, from, user }
      : withoutRequests.has(kind) || secretAs === 'signature'
        ? {}
        : { secretAs };
  return Object.fromEntries(Object.entries(given).filter(([, value]) => value !== ''));
}

/** Sets a destination up, or changes it; a word can be sent to see whether it arrives. */
export function DestinationForm({
  name: known,
  begin,
  onDone,
}: {
  name: string;
  begin: DestinationWire | null;
  onDone: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const done = async (): Promise<void> => {
    await client.invalidateQueries(about('destinations'));
    onDone();
  };
  const save = useMutation({
    mutationFn: (values: Values) =>
      call(putDestination, {
        params: { name: begin === null ? values.name : known },
        body: {
          kind: values.kind,
          address: values.address,
          settings: settingsOf(values),
          allowPrivate: values.kind !== 'program' && values.allowPrivate,
          ...(values.secret !== '' && { secret: values.secret }),
        },
      }),
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: () => call(removeDestination, { params: { name: known } }),
    onSuccess: done,
  });
  const attempt = useMutation({
    mutationFn: () => call(tryDestination, { params: { name: known } }),
  });
  const settings = begin?.settings ?? {};
  return (
    <FieldsForm<Values>
      label="Destination"
      className="inset py-2 d-grid gap-2 ruled"
      begin={{
        name: known,
        kind: begin?.kind ?? 'chat',
        address: begin?.address ?? '',
        to: settings['to'] ?? '',
        from: settings['from'] ?? '',
        user: settings['user'] ?? '',
        secret: '',
        secretAs: settings['secretAs'] === 'bearer' ? 'bearer' : 'signature',
        allowPrivate: begin?.allowPrivate ?? false,
      }}
      onSend={(values) => save.mutate(values)}
      send={begin === null ? 'Set it up' : 'Keep it'}
      isSending={save.isPending}
      onCancel={onDone}
      failure={save.error ?? remove.error ?? attempt.error}
      failed={attempt.isError ? 'It did not arrive' : 'Nothing was changed'}
      also={
        begin !== null && (
          <>
            {tells.has(begin.kind) && (
              <button
                type="button"
                className="link sm"
                disabled={attempt.isPending}
                title="Sends a word as it is kept now, outside of any alert"
                onClick={() => attempt.mutate()}
              >
                {attempt.isPending ? 'Sending' : 'Send a test'}
              </button>
            )}
            <RemoveButton
              what={`the destination ${known}`}
              consequence={`Rules and boards that name it send nothing there any more${begin.rules > 0 ? `, ${counted(begin.rules, 'rule')} among them` : ''}.`}
              className="link sm ms-auto"
              onRemove={() => remove.mutate()}
            />
          </>
        )
      }
    >
      <Fields isNew={begin === null} hasSecret={begin?.hasSecret === true} />
      {attempt.isSuccess && (
        <p className="sm mb-0" role="status">
          It arrived: {attempt.data.said}.
        </p>
      )}
    </FieldsForm>
  );
}

/** What a destination of the chosen kind needs to be told. */
function Fields({ isNew, hasSecret }: { readonly isNew: boolean; readonly hasSecret: boolean }): JSX.Element {
  const kind = useWatch<Values, 'kind'>({ name: 'kind' });
  return (
    <>
      <div className="field-columns">
        {isNew && (
          <TextField<Values>
            name="name"
            label="Name"
            className="mono"
            pattern="[A-Za-z0-9][A-Za-z0-9._\-]*"
            title="Latin letters, digits, hyphens, dots and underscores"
            required
          />
        )}
        <ChoiceField<Values>
          name="kind"
          label="Kind"
          choices={destinationKinds.map((one) => [one, kindWords[one]])}
        />
      </div>
      <TextField<Values>
        name="address"
        label={kind === 'program' ? 'File' : 'Address'}
        className="mono"
        placeholder={examples[kind]}
        required
      />
      {kind === 'mail' && (
        <div className="field-columns">
          <TextField<Values> name="to" label="To" className="mono" placeholder="desk@mail.example" />
          <TextField<Values> name="from" label="From" className="mono" />
          <TextField<Values> name="user" label="User" className="mono" />
        </div>
      )}
      {kind !== 'program' && kind !== 'syslog' && (
        <div className="field-columns">
          <TextField<Values>
            name="secret"
            label="Secret"
            type="password"
            autoComplete="new-password"
            placeholder={hasSecret ? 'one is kept; type another in its place' : 'if it has one'}
          />
          {!withoutRequests.has(kind) && (
            <ChoiceField<Values>
              name="secretAs"
              label="It is sent as"
              choices={[
                ['signature', 'a signature of each request'],
                ['bearer', 'a bearer token'],
              ]}
            />
          )}
        </div>
      )}
      {kind !== 'program' && (
        <SwitchField<Values>
          name="allowPrivate"
          label="It may lie inside: private and loopback addresses are refused otherwise"
        />
      )}
    </>
  );
}
