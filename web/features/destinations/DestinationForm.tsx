import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
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
import { ApiFailure } from '../../api/client.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { Failed } from '../../ui/State.js';
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
  const [name, setName] = useState(known);
  const [kind, setKind] = useState<Kind>(begin?.kind ?? 'chat');
  const [address, setAddress] = useState(begin?.address ?? '');
  const [settings, setSettings] = useState<Record<string, string>>(begin?.settings ?? {});
  const [secret, setSecret] = useState('');
  const [allowPrivate, setAllowPrivate] = useState(begin?.allowPrivate ?? false);
  const done = async (): Promise<void> => {
    await client.invalidateQueries(about('destinations'));
    onDone();
  };
  const save = useMutation({
    mutationFn: () =>
      call(putDestination, {
        params: { name },
        body: { kind, address, settings, allowPrivate, ...(secret !== '' && { secret }) },
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
  const failure = save.error ?? remove.error ?? attempt.error;
  return (
    <Form
      className="inset py-2 d-grid gap-2 ruled"
      aria-label="Destination"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <div className="d-flex gap-2">
        <Form.Control
          size="sm"
          className="mono"
          aria-label="Name"
          placeholder="name"
          value={name}
          disabled={begin !== null}
          pattern="[A-Za-z0-9][A-Za-z0-9._\-]*"
          required
          onChange={(event) => setName(event.target.value)}
        />
        <Form.Select
          size="sm"
          aria-label="Kind"
          value={kind}
          onChange={(event) => setKind(event.target.value as Kind)}
        >
          {destinationKinds.map((one) => (
            <option key={one} value={one}>
              {kindWords[one]}
            </option>
          ))}
        </Form.Select>
      </div>
      <Form.Control
        size="sm"
        className="mono"
        aria-label="Address"
        placeholder={examples[kind]}
        value={address}
        required
        onChange={(event) => setAddress(event.target.value)}
      />
      {kind === 'mail' && (
        <div className="d-flex gap-2">
          {(['to', 'from', 'user'] as const).map((field) => (
            <Form.Control
              key={field}
              size="sm"
              className="mono"
              aria-label={field}
              placeholder={field}
              value={settings[field] ?? ''}
              onChange={(event) => setSettings({ ...settings, [field]: event.target.value })}
            />
          ))}
        </div>
      )}
      {kind !== 'program' && kind !== 'syslog' && (
        <Form.Control
          size="sm"
          type="password"
          autoComplete="new-password"
          aria-label="Secret"
          placeholder={
            begin?.hasSecret === true
              ? 'a secret is kept; type to put another in its place'
              : 'secret, if it has one'
          }
          value={secret}
          onChange={(event) => setSecret(event.target.value)}
        />
      )}
      {kind !== 'program' && (
        <Form.Check
          id="allow-private"
          className="sm"
          label="It may lie inside: private and loopback addresses are refused otherwise"
          checked={allowPrivate}
          onChange={(event) => setAllowPrivate(event.target.checked)}
        />
      )}
      {failure instanceof ApiFailure && (
        <Failed title={failure.problem.title}>{failure.problem.detail}</Failed>
      )}
      <div className="d-flex gap-2 align-items-center">
        <Button type="submit" variant="primary" disabled={save.isPending}>
          {begin === null ? 'Set it up' : 'Keep it'}
        </Button>
        <button type="button" className="link sm" onClick={onDone}>
          Cancel
        </button>
        {begin !== null && tells.has(begin.kind) && (
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
        {begin !== null && (
          <RemoveButton
            what={`the destination ${known}`}
            consequence={`Rules that name it send nothing there any more${begin !== null && begin.rules > 0 ? `: ${begin.rules} do` : ''}.`}
            className="link sm ms-auto"
            onRemove={() => remove.mutate()}
          />
        )}
      </div>
      {attempt.isSuccess && (
        <p className="sm mb-0" role="status">
          It arrived: {attempt.data.said}.
        </p>
      )}
    </Form>
  );
}
