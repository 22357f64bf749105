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
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, showTime } from '../../ui/format.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
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
  const isAdmin = me.role === 'admin';
  const client = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const found = useQuery({ ...answerTo(listPeople), enabled: isAdmin });
  const change = useMutation({
    mutationFn: ({ name, ...body }: PersonChange & { name: string }) =>
      call(changePerson, { params: { name }, body }),
    onSettled: () => client.invalidateQueries(about('people')),
  });
  const people = found.data?.people ?? NONE;
  const columns = useMemo(() => personColumns(beam.zone, setOpen), [beam.zone]);
  const table = useDataTable('people', columns, people);
  const chosen = people.find(({ name }) => name === open) ?? null;
  useKeys(
    rowKeys({
      rows: table.rows,
      at: table.rows.findIndex(({ name }) => name === open),
      onGo: ({ name }) => setOpen(name),
    }),
  );
  return (
    <main className="bench bench-people">
      <ListPane
        title="People"
        actions={
          isAdmin && (
            <Button variant="primary" onClick={() => setOpen('')}>
              Add a person
            </Button>
          )
        }
        answer={isAdmin ? found : null}
        reading="Fetching the people"
        failed="They cannot be shown"
        total={people.length}
        none={
          !isAdmin && (
            <Empty title="For administrators">
              Somebody who administers this adds people and gives roles.
            </Empty>
          )
        }
        table={table}
        keyOf={({ name }) => name}
        isLit={({ name }) => name === open}
        onOpen={({ name }) => setOpen(name)}
        foot={<span>Who is disabled, or given another role, is signed out everywhere at once.</span>}
        address="/people"
      />
      {isAdmin && (
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
