import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent, type JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import {
  destinationKinds,
  type DeliveryLog,
  type DestinationBody,
  type DestinationWire,
} from '../../../core/wire/deliveries.js';
import { ApiFailure, askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { count, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';

type Kind = DestinationBody['kind'];

const kindWords: Readonly<Record<Kind, string>> = {
  chat: 'chat room',
  mail: 'mailbox',
  webhook: 'webhook',
  syslog: 'syslog collector',
  program: 'program of the allowed folder',
  identity: 'identity directory',
};
const examples: Readonly<Record<Kind, string>> = {
  chat: 'https://chat.example/rooms/watch',
  mail: 'smtp://mail.example:25',
  webhook: 'https://sink.example/alerts',
  syslog: 'tcp://collector.example:514',
  program: 'block.sh',
  identity: 'https://directory.example/identity',
};
const stateWords = { waiting: 'waits', sent: 'sent', dead: 'given up' } as const;

/** Where actions of rules go, and how what went there fared. */
export function DestinationsPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const mayChange = usePerson().role === 'admin';
  const [open, setOpen] = useState<string | null>(null);
  const found = useQuery({
    queryKey: keys.destinations,
    queryFn: () => askJson<{ destinations: DestinationWire[] }>('/destinations'),
    refetchInterval: 10_000,
  });
  const all = found.data?.destinations ?? [];
  return (
    <main className="bench" style={{ gridTemplateColumns: '560px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Destinations">
        <div className="sheet-head" style={{ alignItems: 'center' }}>
          <h1 className="page-title grow">Destinations</h1>
          <Link className="sm" to={`/rules${search}`}>
            All rules
          </Link>
          {mayChange && (
            <Button variant="primary" onClick={() => setOpen('')}>
              New destination
            </Button>
          )}
        </div>
        {found.isPending && <Reading title="Fetching the destinations" />}
        {found.isError && <Failed title="They cannot be shown">{found.error.message}</Failed>}
        {found.data !== undefined && all.length === 0 && (
          <Empty title="No destinations yet">
            A rule names one under “lamp: actions:”, as in chat: watch-room. Someone who administers this sets
            it up.
          </Empty>
        )}
        <div className="scrolls">
          {all.map((one) => (
            <div
              key={one.name}
              className={`haired inset py-2${one.name === open ? ' row-line lit d-block' : ''}`}
            >
              <div className="d-flex gap-2">
                <button type="button" className="link mono" onClick={() => setOpen(one.name)}>
                  {one.name}
                </button>
                <span className="soft sm grow">
                  {kindWords[one.kind]}, named by {count(one.rules)} {one.rules === 1 ? 'rule' : 'rules'}
                </span>
                {one.waiting > 0 && <span className="sm">{count(one.waiting)} waiting</span>}
                {one.dead > 0 && <span className="sm problem">{count(one.dead)} given up</span>}
              </div>
              <p className="mono xs mb-0" style={{ overflowWrap: 'anywhere' }}>
                {one.address}
                {one.settings['to'] === undefined ? '' : ` to ${one.settings['to']}`}
              </p>
            </div>
          ))}
          {open !== null && mayChange && (
            <DestinationForm
              key={open}
              name={open}
              begin={all.find(({ name }) => name === open) ?? null}
              onDone={() => setOpen(null)}
            />
          )}
        </div>
        <div className="sheet-foot">
          <span>Secrets are kept sealed, and never shown again.</span>
          <span className="grow" />
          <CurlLink path="/destinations" />
        </div>
      </section>
      <Log search={search} />
    </main>
  );
}

function DestinationForm({
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
    await client.invalidateQueries({ queryKey: keys.destinations });
    onDone();
  };
  const save = useMutation({
    mutationFn: () =>
      askJson(`/destinations/${encodeURIComponent(name)}`, {
        method: 'PUT',
        body: { kind, address, settings, allowPrivate, ...(secret !== '' && { secret }) },
      }),
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: () => askJson(`/destinations/${encodeURIComponent(known)}`, { method: 'DELETE' }),
    onSuccess: done,
  });
  const failure = save.error ?? remove.error;
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
      {['chat', 'webhook', 'identity'].includes(kind) && (
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
        {begin !== null && (
          <button type="button" className="link sm ms-auto" onClick={() => remove.mutate()}>
            Remove
          </button>
        )}
      </div>
    </Form>
  );
}

const shown = { all: 'All', waiting: 'Waiting', dead: 'Given up', sent: 'Sent' } as const;

function Log({ search }: { search: string }): JSX.Element {
  const client = useQueryClient();
  const mayChange = usePerson().role !== 'reader';
  const [only, setOnly] = useState<keyof typeof shown>('all');
  const path = only === 'all' ? '/deliveries' : `/deliveries?state=${only}`;
  const log = useQuery({
    queryKey: keys.deliveries(only),
    queryFn: () => askJson<DeliveryLog>(path),
    refetchInterval: 5000,
  });
  const again = useMutation({
    mutationFn: (id: number) => askJson(`/deliveries/${id}/again`, { method: 'POST' }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.destinations }),
  });
  return (
    <section className="sheet" aria-label="Deliveries">
      <div className="sheet-head pb-1" style={{ alignItems: 'center' }}>
        <h2 className="sheet-title grow">What went out</h2>
        <div className="tabs" role="tablist" aria-label="Deliveries">
          {(Object.keys(shown) as (keyof typeof shown)[]).map((name) => (
            <button
              key={name}
              type="button"
              role="tab"
              aria-selected={name === only}
              onClick={() => setOnly(name)}
            >
              {shown[name]}
            </button>
          ))}
        </div>
      </div>
      {log.isPending && <Reading title="Fetching the log" />}
      {log.isError && <Failed title="The log cannot be shown">{log.error.message}</Failed>}
      {again.isError && <Failed title="It was not tried again">{again.error.message}</Failed>}
      {log.data?.deliveries.length === 0 && (
        <Empty title="Nothing here">
          Actions go out with each alert that is raised of events of the last day.
        </Empty>
      )}
      <div className="scrolls">
        {log.data?.deliveries.map(({ id, alert, title, subject, does, state, tries, said, created }) => (
          <div key={id} className="haired inset py-1 sm">
            <div className="d-flex gap-2">
              <span className="mono nowrap">{showTime(created, 'UTC', 'second')}</span>
              <Link className="cut grow" to={`/alerts/${alert}${search}`} title={`${title}: ${subject}`}>
                {title}: <span className="mono">{subject}</span>
              </Link>
              <span className={state === 'dead' ? 'problem' : state === 'waiting' ? 'soft' : ''}>
                {stateWords[state]}
                {state !== 'sent' && tries > 0 ? `, ${tries === 1 ? 'one try' : `${tries} tries`}` : ''}
              </span>
              {state === 'dead' && mayChange && (
                <button type="button" className="link" onClick={() => again.mutate(id)}>
                  Try again
                </button>
              )}
            </div>
            <p className="xs soft mb-0" style={{ overflowWrap: 'anywhere' }}>
              {does}
              {said === null ? '' : `: ${said}`}
            </p>
          </div>
        ))}
      </div>
      <div className="sheet-foot">
        <span>Times in UTC</span>
        <span className="grow" />
        <CurlLink path={path} />
      </div>
    </section>
  );
}
