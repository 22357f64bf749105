import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { changePerson, listPeople } from '../../../core/wire/endpoints/people.js';
import type { ListedPerson, PersonChange } from '../../../core/wire/people.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { useBeam } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { CurlLink } from '../../ui/Curl.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { DataTable, TableMenu } from '../../ui/DataTable.js';
import { count, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { PersonForm } from './PersonForm.js';

/** One array for all renderings while there are none. */
const NONE: readonly ListedPerson[] = [];

const personColumns = (
  zone: string,
  onOpen: (name: string) => void,
): readonly TableColumn<ListedPerson>[] => [
  {
    id: 'name',
    head: 'person',
    names: true,
    value: ({ name }) => name,
    cell: ({ name, displayName }) => (
      <>
        <button type="button" className="link mono" onClick={() => onOpen(name)}>
          {name}
        </button>
        <span className="queue-subject xs" title={displayName}>
          {displayName}
        </span>
      </>
    ),
  },
  { id: 'role', head: 'role', width: 90, value: ({ role }) => role },
  {
    id: 'state',
    head: 'may sign in',
    width: 100,
    value: ({ disabled }) => (disabled ? 'disabled' : 'yes'),
    cell: ({ disabled }) => (
      <span className={disabled ? 'problem' : ''}>{disabled ? 'disabled' : 'yes'}</span>
    ),
  },
  {
    id: 'tokens',
    head: 'tokens',
    width: 70,
    numeric: true,
    value: ({ tokens }) => tokens,
    cell: ({ tokens }) => count(tokens),
  },
  {
    id: 'created',
    head: `added, ${zone}`,
    width: 150,
    value: ({ created }) => created,
    cell: ({ created }) => <span className="mono xs">{showTime(created, zone, 'minute')}</span>,
  },
];

/** Who may use the workbench; for administrators. */
export function PeoplePage(): JSX.Element {
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const me = usePerson();
  const client = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const found = useQuery({ ...answerTo(listPeople), enabled: me.role === 'admin' });
  const change = useMutation({
    mutationFn: ({ name, ...body }: PersonChange & { name: string }) =>
      call(changePerson, { params: { name }, body }),
    onSettled: () => client.invalidateQueries(about('people')),
  });
  const people = found.data?.people ?? NONE;
  const columns = useMemo(() => personColumns(beam.zone, setOpen), [beam.zone]);
  const table = useDataTable('people', columns, people);
  const chosen = people.find(({ name }) => name === open) ?? null;
  return (
    <main className="bench bench-people">
      <section className="sheet" aria-label="People">
        <div className="sheet-head">
          <h1 className="page-title grow">People</h1>
          {me.role === 'admin' && (
            <Button variant="primary" onClick={() => setOpen('')}>
              Add a person
            </Button>
          )}
        </div>
        {me.role !== 'admin' && (
          <Empty title="For administrators">Somebody who administers this adds people and gives roles.</Empty>
        )}
        {me.role === 'admin' && found.isPending && <Reading title="Fetching the people" />}
        {found.isError && <Failed title="They cannot be shown">{found.error.message}</Failed>}
        <div className="scrolls">
          {people.length > 0 && (
            <DataTable
              table={table}
              keyOf={({ name }) => name}
              isLit={({ name }) => name === open}
              onOpen={({ name }) => setOpen(name)}
            />
          )}
        </div>
        <div className="sheet-foot">
          <span>Who is disabled, or given another role, is signed out everywhere at once.</span>
          <span className="grow" />
          <TableMenu table={table} />
          <CurlLink path="/people" />
        </div>
      </section>
      {me.role === 'admin' && (
        <section className="sheet" aria-label={open === '' ? 'New person' : 'One person'}>
          {open === null && (
            <>
              <div className="sheet-head">
                <h2 className="sheet-title">Roles</h2>
              </div>
              <dl className="inset sm roles">
                <dt>reader</dt>
                <dd>hunts, reads alerts, rules and cases, keeps hunts of their own</dd>
                <dt>analyst</dt>
                <dd>works on alerts and cases, writes rules, asks for and approves responses</dd>
                <dt>admin</dt>
                <dd>sources, recipes, lists, destinations, keys and people</dd>
              </dl>
              <Changes kind="person" zone={beam.zone} />
            </>
          )}
          {open !== null && (
            <PersonForm
              key={open}
              person={chosen}
              isMe={chosen?.name === me.name}
              zone={beam.zone}
              failure={change.error}
              onChange={(body) => chosen !== null && change.mutate({ name: chosen.name, ...body })}
              onAdded={(name) => {
                void client.invalidateQueries(about('people'));
                setOpen(name);
              }}
              onClose={() => setOpen(null)}
            />
          )}
        </section>
      )}
    </main>
  );
}
