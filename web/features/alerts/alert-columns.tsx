import { useEffect, useState, type JSX } from 'react';
import { severities } from '../../../core/events/kinds.js';
import type { AlertList } from '../../../core/wire/alerts.js';
import { ago, count, showTime } from '../../ui/format.js';
import { Severity } from '../../ui/Glyphs.js';
import type { TableColumn } from '../../ui/data-table.js';
import { Spark } from './Spark.js';

type Shown = AlertList['alerts'][number];

/** Time does not stand still while one looks. */
const CLOCK_MILLISECONDS = 30_000;

function Waits({ since }: { since: string }): JSX.Element {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const clock = setInterval(() => setNow(Date.now()), CLOCK_MILLISECONDS);
    return () => clearInterval(clock);
  }, []);
  return <>waits {ago(since, now)}</>;
}

/**
 * What the queue shows of each alert.
 * @param zone of times
 * @param address of an alert, with what the queue is narrowed to
 * @param onOpen opens one beside the queue
 */
export const alertColumns = (
  zone: string,
  address: (id: number) => string,
  onOpen: (alert: Shown) => void,
): readonly TableColumn<Shown>[] => [
  {
    id: 'severity',
    head: 'severity',
    width: 118,
    value: ({ level }) => level,
    // The gravest first.
    order: (a, b) => severities.indexOf(b.level) - severities.indexOf(a.level),
    cell: ({ level }) => <Severity level={level} />,
  },
  {
    id: 'rule',
    head: 'rule and subject',
    names: true,
    value: ({ title, subject }) => `${title}: ${subject}`,
    cell: (alert) => (
      <>
        <a
          className="queue-title"
          href={address(alert.id)}
          onClick={(event) => {
            // With a key held it opens beside, as links do.
            if (event.ctrlKey || event.metaKey || event.shiftKey) return event.stopPropagation();
            event.preventDefault();
            event.stopPropagation();
            onOpen(alert);
          }}
        >
          {alert.title}
        </a>
        <span className="queue-subject mono" title={alert.subject}>
          {alert.subject}
        </span>
      </>
    ),
  },
  {
    id: 'matches',
    head: 'matches',
    width: 66,
    numeric: true,
    value: ({ matches }) => matches,
    cell: ({ matches }) => count(matches),
  },
  {
    id: 'last',
    head: 'first to last',
    width: 122,
    value: ({ lastEvent }) => lastEvent,
    cell: ({ firstEvent, lastEvent, spark }) => (
      <span title={`${showTime(firstEvent, zone, 'log')} to ${showTime(lastEvent, zone, 'log')} ${zone}`}>
        <Spark counts={spark} />
        <span className="xs">{showTime(lastEvent, zone, 'minute')}</span>
      </span>
    ),
  },
  {
    id: 'first',
    head: 'first seen',
    width: 124,
    spare: true,
    value: ({ firstEvent }) => firstEvent,
    cell: ({ firstEvent }) => showTime(firstEvent, zone, 'minute'),
  },
  {
    id: 'state',
    head: 'state',
    width: 94,
    className: () => 'cut',
    value: ({ state, verdict }) => (state === 'settled' ? (verdict ?? state) : state),
    cell: ({ state, verdict, owner, created }) =>
      state === 'settled' ? (
        verdict
      ) : state === 'looking' ? (
        `with ${owner ?? 'someone'}`
      ) : (
        <Waits since={created} />
      ),
  },
  {
    id: 'raised',
    head: 'raised',
    width: 124,
    spare: true,
    value: ({ created }) => created,
    cell: ({ created }) => showTime(created, zone, 'minute'),
  },
  {
    id: 'owner',
    head: 'owner',
    width: 110,
    spare: true,
    value: ({ owner }) => owner,
    className: () => 'mono cut',
  },
  {
    id: 'reason',
    head: 'reason',
    width: 150,
    spare: true,
    value: ({ reason }) => reason,
    className: () => 'cut',
  },
  { id: 'id', head: 'number', width: 70, spare: true, numeric: true, value: ({ id }) => id },
];
