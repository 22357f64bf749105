import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { listRecipes } from '../../../core/wire/endpoints/recipes.js';
import { changeSource, renewSourceKey } from '../../../core/wire/endpoints/sources.js';
import type { Source, SourceChange, SyslogClaim } from '../../../core/wire/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Changes } from '../../changes/Changes.js';
import { Dialog } from '../../kit/Dialog.js';
import { Failed } from '../../ui/State.js';
import { ShownKey } from './ShownKey.js';
import { SourceNames } from './SourceNames.js';

const spelled = (items: readonly string[] | undefined): string => (items ?? []).join(' ');
const words = (text: string): string[] => text.split(/[\s,]+/).filter((word) => word !== '');

/** The claim of the three fields; null when all are empty. */
function claimOf(hosts: string, programs: string, networks: string): SyslogClaim | null {
  const claim = Object.fromEntries(
    Object.entries({ hosts: words(hosts), programs: words(programs), networks: words(networks) }).filter(
      ([, given]) => given.length > 0,
    ),
  ) as SyslogClaim;
  return Object.keys(claim).length === 0 ? null : claim;
}

/** Title, recipe, retention, syslog claim and key of a source. */
export function SourceSettings({ source }: { source: Source }): JSX.Element {
  const person = usePerson();
  // A change made elsewhere starts the form anew.
  const state = JSON.stringify([
    source.title,
    source.description,
    source.recipe,
    source.retentionDays,
    source.syslog,
    source.zone,
  ]);
  return (
    <>
      <SettingsForm key={`${source.name} ${state}`} source={source} fixed={person.role !== 'admin'} />
      <Key source={source} fixed={person.role !== 'admin'} />
      {person.role === 'admin' && <SourceNames source={source} />}
    </>
  );
}

function SettingsForm({ source, fixed }: { source: Source; fixed: boolean }): JSX.Element {
  const client = useQueryClient();
  const [title, setTitle] = useState(source.title);
  const [description, setDescription] = useState(source.description);
  const [recipe, setRecipe] = useState(source.recipe);
  const [days, setDays] = useState(source.retentionDays === null ? '' : String(source.retentionDays));
  const [hosts, setHosts] = useState(spelled(source.syslog?.hosts));
  const [programs, setPrograms] = useState(spelled(source.syslog?.programs));
  const [zone, setZone] = useState(source.zone ?? '');
  const [networks, setNetworks] = useState(spelled(source.syslog?.networks));
  const recipes = useQuery(answerTo(listRecipes));
  const save = useMutation({
    mutationFn: () =>
      call(changeSource, {
        params: { source: source.name },
        body: {
          title,
          description,
          recipe,
          retentionDays: days.trim() === '' ? null : Number(days),
          syslog: claimOf(hosts, programs, networks),
          zone: zone.trim() === '' ? null : zone.trim(),
        } satisfies SourceChange,
      }),
    onSuccess: () => client.invalidateQueries(about('sources')),
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
    <Form.Group controlId={`source-${id}`}>
      <Form.Label className="sm mb-0">{label}</Form.Label>
      <Form.Control size="sm" value={value} onChange={(event) => set(event.target.value)} {...more} />
    </Form.Group>
  );
  return (
    <form onSubmit={submit}>
      <fieldset disabled={fixed} className="d-grid gap-2 inset py-2">
        {field('edit-title', 'Title', title, setTitle, { required: true, maxLength: 200 })}
        {field('edit-description', 'What it is', description, setDescription, { maxLength: 1000 })}
        <Form.Group controlId="source-edit-recipe">
          <Form.Label className="sm mb-0">Recipe</Form.Label>
          <Form.Select size="sm" value={recipe} onChange={(event) => setRecipe(event.target.value)}>
            {(recipes.data?.recipes ?? [{ name: recipe, title: recipe }]).map((one) => (
              <option key={one.name} value={one.name}>
                {one.title}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        {field('edit-days', 'Days its events are kept (empty: for ever)', days, setDays, {
          type: 'number',
          min: 1,
          max: 3650,
        })}
        {field(
          'edit-zone',
          'Time zone of its times that name none (empty: as the recipe says)',
          zone,
          setZone,
          {
            className: 'mono',
            placeholder: 'Europe/Lisbon',
            maxLength: 60,
          },
        )}
        <p className="sm pt-1">
          <b>Syslog messages that are its own</b>{' '}
          <span className="soft">every field that is filled must fit; several with blanks between</span>
        </p>
        {field('edit-hosts', 'Host names, * for any run of characters', hosts, setHosts, {
          className: 'mono',
        })}
        {field('edit-programs', 'Programs', programs, setPrograms, { className: 'mono' })}
        {field('edit-networks', 'Addresses or networks they come from', networks, setNetworks, {
          className: 'mono',
        })}
        {fixed ? (
          <p className="sm soft">Only an admin may change this.</p>
        ) : (
          <div className="d-flex gap-3 align-items-center pt-1">
            <Button size="sm" type="submit" variant="primary" disabled={save.isPending}>
              Save
            </Button>
            <span className="sm" role="status">
              {save.isSuccess && 'Saved'}
            </span>
          </div>
        )}
        {save.isError && <Failed title="Nothing was changed">{save.error.message}</Failed>}
      </fieldset>
    </form>
  );
}

/** The key is shown only in the moment it is made. */
function Key({ source, fixed }: { source: Source; fixed: boolean }): JSX.Element {
  const client = useQueryClient();
  const rotate = useMutation({
    mutationFn: () => call(renewSourceKey, { params: { source: source.name } }),
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Key</h3>
        <span className="sm">
          ends in <span className="mono">{source.keyEnding}</span>
        </span>
        {!fixed && (
          <button type="button" className="link sm" onClick={() => rotate.mutate()}>
            Rotate
          </button>
        )}
      </div>
      <Changes kind="source" name={source.name} zone="UTC" />
      {rotate.isError && <Failed title="The key was not rotated">{rotate.error.message}</Failed>}
      {rotate.data !== undefined && (
        <Dialog
          title="A new key"
          onClose={() => rotate.reset()}
          foot={
            <>
              <Button variant="primary" onClick={() => rotate.reset()}>
                I have kept it
              </Button>
            </>
          }
        >
          {rotate.data !== undefined && <ShownKey source={source.name} secret={rotate.data.key} />}
        </Dialog>
      )}
    </>
  );
}
