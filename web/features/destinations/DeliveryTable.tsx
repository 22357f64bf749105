import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { DeliveryLog } from '../../../core/wire/deliveries.js';
import { deliverAgain, listDeliveries } from '../../../core/wire/endpoints/deliveries.js';
import { about, addressOf, call } from '../../api/call.js';
import { usePages } from '../../api/pages.js';
import { CurlLink } from '../../kit/Curl.js';
import { More } from '../../kit/More.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { DataTable, TableMenu } from '../../ui/DataTable.js';
import { showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';

type Delivery = DeliveryLog['deliveries'][number];

const shown = { all: 'All', waiting: 'Waiting', dead: 'Given up', sent: 'Sent' } as const;
const stateWords = { waiting: 'waits', sent: 'sent', dead: 'given up' } as const;

const deliveryColumns = (
  zone: string,
  search: string,
  onAgain: ((id: number) => void) | null,
): readonly TableColumn<Delivery>[] => [
  {
    id: 'time',
    head: 'time',
    width: 148,
    value: ({ created }) => created,
    cell: ({ created }) => showTime(created, zone, 'second'),
    className: () => 'mono',
  },
  {
    id: 'alert',
    head: 'alert or board, and what is done',
    names: true,
    value: ({ title, subject }) => (subject === '' ? title : `${title}: ${subject}`),
    cell: ({ alert, board, title, subject, does }) => (
      <>
        {alert === null ? (
          <Link className="queue-title" to={`/dashboards/${board ?? ''}${search}`} title={title}>
            {title}
          </Link>
        ) : (
          <Link className="queue-title" to={`/alerts/${alert}${search}`} title={`${title}: ${subject}`}>
            {title}: <span className="mono">{subject}</span>
          </Link>
        )}
        <span className="queue-subject" title={does}>
          {does}
        </span>
      </>
    ),
  },
  { id: 'does', head: 'action', width: 150, spare: true, value: ({ does }) => does, className: () => 'cut' },
  {
    id: 'state',
    head: 'state',
    width: 190,
    value: ({ state }) => stateWords[state],
    cell: ({ id, state, tries, said }) => (
      <>
        <span className="d-flex gap-2">
          <span className={`grow ${state === 'dead' ? 'problem' : state === 'waiting' ? 'soft' : ''}`}>
            {stateWords[state]}
            {state !== 'sent' && tries > 0 ? `, ${tries === 1 ? 'one try' : `${tries} tries`}` : ''}
          </span>
          {state === 'dead' && onAgain !== null && (
            <button type="button" className="link" onClick={() => onAgain(id)}>
              Try again
            </button>
          )}
        </span>
        <span className="queue-subject" title={said ?? ''}>
          {said}
        </span>
      </>
    ),
  },
  { id: 'tries', head: 'tries', width: 64, numeric: true, spare: true, value: ({ tries }) => tries },
  {
    id: 'said',
    head: 'what it said',
    width: 160,
    spare: true,
    value: ({ said }) => said,
    className: () => 'cut',
  },
  {
    id: 'finished',
    head: 'over',
    width: 136,
    spare: true,
    value: ({ finished }) => finished,
    cell: ({ finished }) => (finished === null ? '' : showTime(finished, zone, 'second')),
    className: () => 'mono',
  },
];

/** What went out, what waits, and what was given up, which can be tried again. */
export function DeliveryTable({
  search,
  zone,
  mayChange,
}: {
  search: string;
  zone: string;
  mayChange: boolean;
}): JSX.Element {
  const client = useQueryClient();
  const [only, setOnly] = useState<keyof typeof shown>('all');
  const asked = { query: { state: only === 'all' ? undefined : only } };
  const log = usePages(listDeliveries, asked, { refetchInterval: 5000 });
  const deliveries = useMemo(() => log.pages.flatMap((page) => page.deliveries), [log.pages]);
  const again = useMutation({
    mutationFn: (id: number) => call(deliverAgain, { params: { delivery: id } }),
    onSettled: () => client.invalidateQueries(about('deliveries')),
  });
  const { mutate } = again;
  const columns = useMemo(
    () => deliveryColumns(zone, search, mayChange ? mutate : null),
    [zone, search, mayChange, mutate],
  );
  const table = useDataTable('deliveries', columns, deliveries, 'log-by');
  return (
    <section className="sheet" aria-label="Deliveries">
      <div className="sheet-head pb-1 align-items-center">
        <h2 className="sheet-title grow">What went out</h2>
        <Tabs
          label="Deliveries"
          names={Object.keys(shown) as (keyof typeof shown)[]}
          chosen={only}
          onChoose={setOnly}
          show={(name) => shown[name]}
        />
      </div>
      {log.isPending && <Reading title="Fetching the log" />}
      {log.isError && <Failed title="The log cannot be shown">{log.error?.message}</Failed>}
      {again.isError && <Failed title="It was not tried again">{again.error.message}</Failed>}
      {log.isSuccess && deliveries.length === 0 && (
        <Empty title="Nothing here">
          Actions go out with each alert that is raised of events of the last day.
        </Empty>
      )}
      <div className="scrolls">
        {table.rows.length > 0 && <DataTable table={table} keyOf={({ id }) => id} />}
        <More onMore={log.more} label="Show earlier ones" />
      </div>
      <div className="sheet-foot">
        <span>Times are {zone}.</span>
        <span className="grow" />
        <TableMenu table={table} />
        <CurlLink path={addressOf(listDeliveries, asked)} />
      </div>
    </section>
  );
}
