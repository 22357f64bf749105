import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import type { DestinationWire } from '../../../core/wire/deliveries.js';
import { listDestinations } from '../../../core/wire/endpoints/destinations.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count } from '../../ui/format.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { DeliveryTable } from './DeliveryTable.js';
import { DestinationForm } from './DestinationForm.js';
import { ResponseRightsPart } from './ResponseRightsPart.js';
import { kindWords } from './kind-words.js';

/** One array for all renderings while there are none. */
const NONE: readonly DestinationWire[] = [];

const goesTo = ({ address, settings }: DestinationWire): string =>
  settings['to'] === undefined ? address : `${address} to ${settings['to']}`;

const destinationColumns = (onOpen: (name: string) => void): readonly TableColumn<DestinationWire>[] => [
  {
    id: 'name',
    head: 'destination',
    names: true,
    value: ({ name }) => name,
    cell: (one) => (
      <>
        <button type="button" className="link mono" onClick={() => onOpen(one.name)}>
          {one.name}
        </button>
        <span className="queue-subject mono xs" title={goesTo(one)}>
          {goesTo(one)}
        </span>
      </>
    ),
  },
  { id: 'kind', head: 'kind', width: 120, value: ({ kind }) => kindWords[kind], className: () => 'cut' },
  { id: 'rules', head: 'rules', width: 62, numeric: true, value: ({ rules }) => rules },
  {
    id: 'waiting',
    head: 'waiting',
    width: 74,
    numeric: true,
    value: ({ waiting }) => waiting,
    cell: ({ waiting }) => count(waiting),
  },
  {
    id: 'dead',
    head: 'given up',
    width: 78,
    numeric: true,
    value: ({ dead }) => dead,
    cell: ({ dead }) => <span className={dead > 0 ? 'problem' : ''}>{count(dead)}</span>,
  },
];

/** Where actions of rules go, and how what went there fared. */
export function DestinationsPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const person = usePerson();
  const mayChange = person.role === 'admin';
  const [open, setOpen] = useState<string | null>(null);
  const found = useQuery({ ...answerTo(listDestinations), refetchInterval: 10_000 });
  const all = found.data?.destinations ?? NONE;
  const columns = useMemo(() => destinationColumns(setOpen), []);
  const table = useDataTable('destinations', columns, all);
  useKeys(
    rowKeys({
      rows: table.rows,
      at: table.rows.findIndex(({ name }) => name === open),
      onGo: ({ name }) => setOpen(name),
    }),
  );
  return (
    <main className="bench bench-destinations">
      <ListPane
        title="Destinations"
        actions={
          <>
            <Link className="sm" to={`/rules${search}`}>
              All rules
            </Link>
            {mayChange && (
              <Button variant="primary" onClick={() => setOpen('')}>
                New destination
              </Button>
            )}
          </>
        }
        answer={found}
        reading="Fetching the destinations"
        failed="They cannot be shown"
        total={all.length}
        none={
          <Empty title="No destinations yet">
            A rule names one under “lamp: actions:”, as in chat: watch-room.{' '}
            {mayChange ? (
              <button type="button" className="link" onClick={() => setOpen('')}>
                Set the first one up
              </button>
            ) : (
              'Someone who administers this sets it up.'
            )}
          </Empty>
        }
        table={table}
        keyOf={({ name }) => name}
        isLit={({ name }) => name === open}
        onOpen={({ name }) => setOpen(name)}
        after={
          <>
            {open !== null && mayChange && (
              <DestinationForm
                key={open}
                name={open}
                begin={all.find(({ name }) => name === open) ?? null}
                onDone={() => setOpen(null)}
              />
            )}
            <ResponseRightsPart mayChange={mayChange} />
          </>
        }
        below={<Changes kind="destination" zone={beam.zone} />}
        foot={<span>Secrets are kept sealed, and never shown again.</span>}
        address="/destinations"
      />
      <DeliveryTable search={search} zone={beam.zone} mayChange={person.role !== 'reader'} />
    </main>
  );
}
