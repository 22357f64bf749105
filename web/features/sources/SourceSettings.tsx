import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { listRecipes } from '../../../core/wire/endpoints/recipes.js';
import { changeSource, renewSourceKey } from '../../../core/wire/endpoints/sources.js';
import type { Source, SourceChange, SyslogClaim } from '../../../core/wire/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Changes } from '../../changes/Changes.js';
import { Dialog } from '../../kit/Dialog.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
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

interface Settings {
  readonly title: string;
  readonly description: string;
  readonly recipe: string;
  readonly days: string;
  readonly zone: string;
  readonly hosts: string;
  readonly programs: string;
  readonly networks: string;
}

const settingsOf = ({ title, description, recipe, retentionDays, syslog, zone }: Source): Settings => ({
  title,
  description,
  recipe,
  days: retentionDays === null ? '' : String(retentionDays),
  zone: zone ?? '',
  hosts: spelled(syslog?.hosts),
  programs: spelled(syslog?.programs),
  networks: spelled(syslog?.networks),
});

const changeOf = ({ title, description, recipe, days, zone, ...claimed }: Settings): SourceChange => ({
  title,
  description,
  recipe,
  retentionDays: days.trim() === '' ? null : Number(days),
  syslog: claimOf(claimed.hosts, claimed.programs, claimed.networks),
  zone: zone.trim() === '' ? null : zone.trim(),
});

function SettingsForm({ source, fixed }: { source: Source; fixed: boolean }): JSX.Element {
  const client = useQueryClient();
  const recipes = useQuery(answerTo(listRecipes));
  const save = useMutation({
    mutationFn: (settings: Settings) =>
      call(changeSource, { params: { source: source.name }, body: changeOf(settings) }),
    onSuccess: () => client.invalidateQueries(about('sources')),
  });
  const { recipe } = source;
  return (
    <FieldsForm<Settings>
      label="Settings"
      begin={settingsOf(source)}
      send="Save"
      isSending={save.isPending}
      onSend={(settings) => save.mutate(settings)}
      failure={save.error}
      fixed={fixed ? 'Only an admin may change this.' : undefined}
      also={
        <span className="sm" role="status">
          {save.isSuccess && 'Saved'}
        </span>
      }
    >
      <TextField<Settings> name="title" label="Title" required maxLength={200} />
      <TextField<Settings> name="description" label="What it is" maxLength={1000} />
      <ChoiceField<Settings>
        name="recipe"
        label="Recipe"
        choices={(recipes.data?.recipes ?? [{ name: recipe, title: recipe }]).map((one) => [
          one.name,
          one.title,
        ])}
      />
      <TextField<Settings>
        name="days"
        label="Days its events are kept (empty: for ever)"
        type="number"
        min={1}
        max={3650}
      />
      <TextField<Settings>
        name="zone"
        label="Time zone of its times that name none (empty: as the recipe says)"
        className="mono"
        placeholder="Europe/Lisbon"
        maxLength={60}
      />
      <p className="sm pt-1 mb-0">
        <b>Syslog messages that are its own</b>{' '}
        <span className="soft">every field that is filled must fit; several with blanks between</span>
      </p>
      <TextField<Settings> name="hosts" label="Host names, * for any run of characters" className="mono" />
      <TextField<Settings> name="programs" label="Programs" className="mono" />
      <TextField<Settings> name="networks" label="Addresses or networks they come from" className="mono" />
    </FieldsForm>
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
