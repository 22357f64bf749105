import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { ResponseTried } from '../../../core/wire/alerts.js';
import { tryResponse } from '../../../core/wire/endpoints/alerts.js';
import { answerTo } from '../../api/call.js';
import { huntAround } from '../../beam/around.js';
import { Dialog } from '../../kit/Dialog.js';
import { count } from '../../ui/format.js';
import { TextMark } from '../../ui/Glyphs.js';
import { Failed, Reading } from '../../ui/State.js';
import type { WantedResponse } from './ResponsesPart.js';

/** After how many hours a response may end by itself. */
const HOURS = [1, 8, 24, 168] as const;
const hoursInWords = (hours: number): string =>
  hours < 24 ? `${hours} hour${hours === 1 ? '' : 's'}` : `${hours / 24} day${hours === 24 ? '' : 's'}`;

/** Tries a response on the past before it is asked for: what it would have hit, and the exact request. */
export function TryResponse({
  alert,
  wanted,
  search,
  busy,
  failure,
  onWant,
  onAsk,
  onClose,
}: {
  alert: number;
  wanted: WantedResponse;
  search: string;
  busy: boolean;
  failure: Error | null;
  onWant: (wanted: WantedResponse) => void;
  /** @param hours after which it ends; null for never; nothing where it cannot */
  onAsk: (hours: number | null | undefined) => void;
  onClose: () => void;
}): JSX.Element {
  const tried = useQuery({
    ...answerTo(tryResponse, { params: { id: alert }, body: { ...wanted } }),
    staleTime: 60_000,
  });
  const [hours, setHours] = useState<number | null | undefined>(undefined);
  const found = tried.data;
  return (
    <Dialog
      title={
        <>
          {found?.label ?? 'Trying'}: <span className="mono">{wanted.subject}</span>
        </>
      }
      size="lg"
      onClose={onClose}
      foot={
        <>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button
            variant="primary"
            disabled={found === undefined || busy}
            onClick={() => onAsk(found?.hours === null ? undefined : hours)}
          >
            Ask for it
          </Button>
        </>
      }
    >
      {tried.isError && <Failed title="It cannot be tried">{tried.error.message}</Failed>}
      {tried.isPending && <Reading title="Trying it on the last 30 days" />}
      {found !== undefined && (
        <>
          <p className={`mb-2 ${found.everyday ? 'bad' : ''}`} role="status">
            <TextMark mark={found.everyday ? 'bad' : 'fine'} /> {found.says}
          </p>
          <HitDays tried={found} />
          <dl className="facts">
            {found.what.length > 0 && (
              <>
                <dt>what</dt>
                <dd className="mono anywhere">{found.what.join(', ')}</dd>
              </>
            )}
            {found.whence.length > 0 && (
              <>
                <dt>from</dt>
                <dd className="mono anywhere">{found.whence.join(', ')}</dd>
              </>
            )}
          </dl>
          <p className="sm">
            <Link to={huntAround(search, found.window, 0, found.hunt)}>Read them as a hunt</Link>
          </p>
          {found.narrower !== null && (found.everyday || found.narrower.subject !== wanted.subject) && (
            <p className="sm">
              One that does less:{' '}
              <button
                type="button"
                className="link"
                onClick={() =>
                  found.narrower !== null &&
                  onWant({ does: found.narrower.does, subject: found.narrower.subject })
                }
              >
                {found.narrower.label}
                {found.narrower.subject !== wanted.subject && `: ${found.narrower.subject}`}
              </button>
            </p>
          )}
          <h3 className="section-head">The exact request</h3>
          {found.carrier === null ? (
            <p className="sm bad">
              Nobody is set up to carry it out: it can be asked for, and approved once a destination is there.
            </p>
          ) : (
            found.request !== null && (
              <pre className="added-lines">
                {`to ${found.carrier}\n${found.request.method} ${found.request.address}\n${JSON.stringify(found.request.body, null, 2)}`}
              </pre>
            )
          )}
          {found.hours !== null && (
            <Form.Group className="d-flex gap-2 align-items-center sm" controlId="response-hours">
              <Form.Label className="mb-0">Ends by itself after</Form.Label>
              <Form.Select
                size="sm"
                className="w-auto"
                value={hours === null ? '' : String(hours ?? found.hours)}
                onChange={(event) => setHours(event.target.value === '' ? null : Number(event.target.value))}
              >
                {HOURS.map((one) => (
                  <option key={one} value={one}>
                    {hoursInWords(one)}
                  </option>
                ))}
                <option value="">never: it is taken back by hand</option>
              </Form.Select>
            </Form.Group>
          )}
          {found.undo === null && <p className="sm soft mb-0">It cannot be taken back.</p>}
          {failure !== null && <Failed title="It was not asked for">{failure.message}</Failed>}
        </>
      )}
    </Dialog>
  );
}

const HIGH = 34;

/** What it would have hit, by the day. */
function HitDays({ tried: { days, window } }: { tried: ResponseTried }): JSX.Element | null {
  if (days.length === 0) return null;
  const from = Math.floor(Date.parse(window.from) / 86_400_000);
  const all = Math.ceil(Date.parse(window.to) / 86_400_000) - from;
  const top = Math.max(...days.map(({ events }) => events));
  const step = 700 / all;
  return (
    <svg
      viewBox={`0 0 700 ${HIGH + 2}`}
      className="hit-days"
      role="img"
      aria-label={`Most on one day: ${count(top)} events`}
    >
      <path className="hair" d={`M0 ${HIGH + 1}H700`} />
      {days.map(({ day, events }) => {
        const high = Math.max(1.5, (events / top) * HIGH);
        const at = Math.floor(Date.parse(day) / 86_400_000) - from;
        return (
          <rect key={day} x={at * step + step * 0.2} y={HIGH - high} width={step * 0.6} height={high}>
            <title>{`${day.slice(0, 10)}: ${count(events)}`}</title>
          </rect>
        );
      })}
    </svg>
  );
}
