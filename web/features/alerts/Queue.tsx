import { useEffect, useRef, useState, type JSX } from 'react';
import { Form } from 'react-bootstrap';
import type { AlertList } from '../../../core/wire/alerts.js';
import { ago, count, showTime } from '../../ui/format.js';
import { Severity } from '../../ui/Glyphs.js';
import { Spark } from './Spark.js';

/** The queue: gravest first, each with when its events happened. */
export function Queue({
  alerts,
  openId,
  zone,
  chosen,
  mayChange,
  onOpen,
  onChoose,
}: {
  alerts: AlertList['alerts'];
  chosen: ReadonlySet<number>;
  mayChange: boolean;
  onChoose: (alert: number) => void;
  openId: number | undefined;
  zone: string;
  onOpen: (alert: { readonly id: number }) => void;
}): JSX.Element {
  const lit = useRef<HTMLTableRowElement>(null);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const clock = setInterval(() => setNow(Date.now()), 30_000);
    return () => clearInterval(clock);
  }, []);
  useEffect(() => {
    // Newer browsers give a promise here, which an effect must not return.
    lit.current?.scrollIntoView({ block: 'nearest' });
  }, [openId]);
  return (
    <div className="scrolls">
      <table className="table queue" style={{ tableLayout: 'fixed' }}>
        <thead>
          <tr>
            {mayChange && <th style={{ width: 30 }} aria-label="chosen" />}
            <th style={{ width: 118 }}>severity</th>
            <th>rule and subject</th>
            <th className="num" style={{ width: 68 }}>
              matches
            </th>
            <th style={{ width: 124 }}>first to last seen</th>
            <th style={{ width: 88 }}>state</th>
          </tr>
        </thead>
        <tbody>
          {alerts.map((alert) => (
            <tr
              key={alert.id}
              ref={alert.id === openId ? lit : null}
              data-opens
              className={alert.id === openId ? 'lit' : ''}
              onClick={() => onOpen(alert)}
            >
              {mayChange && (
                <td onClick={(event) => event.stopPropagation()}>
                  <Form.Check
                    aria-label={`Choose ${alert.title}, ${alert.subject}`}
                    checked={chosen.has(alert.id)}
                    onChange={() => onChoose(alert.id)}
                  />
                </td>
              )}
              <td>
                <Severity level={alert.level} />
              </td>
              <td>
                <a
                  className="queue-title"
                  href={`/alerts/${alert.id}`}
                  aria-current={alert.id === openId ? 'true' : undefined}
                  onClick={(event) => {
                    event.preventDefault();
                    onOpen(alert);
                  }}
                  style={{ color: 'inherit', textDecoration: 'none' }}
                >
                  {alert.title}
                </a>
                <span className="queue-subject mono" title={alert.subject}>
                  {alert.subject}
                </span>
              </td>
              <td className="num">{count(alert.matches)}</td>
              <td
                title={`${showTime(alert.firstEvent, zone, 'log')} to ${showTime(alert.lastEvent, zone, 'log')} ${zone}`}
              >
                <Spark counts={alert.spark} />
                <span className="xs">{showTime(alert.lastEvent, zone, 'minute')}</span>
              </td>
              <td className="cut">
                {alert.state === 'settled'
                  ? alert.verdict
                  : alert.state === 'looking'
                    ? `with ${alert.owner ?? 'someone'}`
                    : `waits ${ago(alert.created, now)}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
