import { ArrowsOutLineHorizontal } from '@phosphor-icons/react/dist/csr/ArrowsOutLineHorizontal';
import { CaretLeft } from '@phosphor-icons/react/dist/csr/CaretLeft';
import { CaretRight } from '@phosphor-icons/react/dist/csr/CaretRight';
import { LinkSimple } from '@phosphor-icons/react/dist/csr/LinkSimple';
import { DateTime, IANAZone } from 'luxon';
import { useState, type FormEvent, type JSX } from 'react';
import { Button, Dropdown, Form } from 'react-bootstrap';
import { useLocation } from 'react-router';
import { span } from '../ui/format.js';
import { useAsked } from '../beam/asked.js';
import { CarriedSlips } from './CarriedSlips.js';
import { presets, useBeam, type Beam, type BeamChange } from '../beam/beam.js';

/** What a date-and-time field holds: wall time in a zone, without the zone. */
const FIELD = "yyyy-MM-dd'T'HH:mm:ss";
const ZONES = [
  'UTC',
  'Europe/Oslo',
  'Europe/London',
  'Europe/Amsterdam',
  'Europe/Stockholm',
  'Europe/Lisbon',
];

function windowText({ window, zone }: Beam): string {
  const from = DateTime.fromISO(window.from, { zone });
  const to = DateTime.fromISO(window.to, { zone });
  const sameDay = from.hasSame(to, 'day');
  return `${from.toFormat('d LLL yyyy HH:mm')} – ${to.toFormat(sameDay ? 'HH:mm' : 'd LLL HH:mm')}`;
}

/** Times typed as wall time in the Beam's zone. */
function ExactTimes({
  beam,
  change,
  onDone,
}: {
  beam: Beam;
  change: (change: BeamChange) => void;
  onDone: () => void;
}): JSX.Element {
  const field = (iso: string): string => DateTime.fromISO(iso, { zone: beam.zone }).toFormat(FIELD);
  const [from, setFrom] = useState(() => field(beam.window.from));
  const [to, setTo] = useState(() => field(beam.window.to));
  const [zone, setZone] = useState(beam.zone);
  const [mistake, setMistake] = useState('');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (!IANAZone.isValidZone(zone))
      return setMistake(`"${zone}" is no time zone. Use a name such as Europe/Oslo.`);
    const [start, end] = [from, to].map((text) => DateTime.fromISO(text, { zone }).toUTC());
    if (!start?.isValid || !end?.isValid) return setMistake('Both times are needed.');
    if (end <= start) return setMistake('The window ends before it begins.');
    change({
      from: start.toISO({ suppressMilliseconds: true }) ?? '',
      to: end.toISO({ suppressMilliseconds: true }) ?? '',
    });
    onDone();
  };
  return (
    <form className="beam-form" onSubmit={submit} aria-label="Exact times">
      <Form.Group controlId="beam-from" className="mb-2">
        <Form.Label className="xs soft mb-0">From</Form.Label>
        <Form.Control
          type="datetime-local"
          step={1}
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        />
      </Form.Group>
      <Form.Group controlId="beam-to" className="mb-2">
        <Form.Label className="xs soft mb-0">To</Form.Label>
        <Form.Control
          type="datetime-local"
          step={1}
          value={to}
          onChange={(event) => setTo(event.target.value)}
        />
      </Form.Group>
      <Form.Group controlId="beam-zone" className="mb-2">
        <Form.Label className="xs soft mb-0">Time zone</Form.Label>
        <Form.Control
          list="zones"
          value={zone}
          onChange={(event) => {
            setZone(event.target.value);
            if (IANAZone.isValidZone(event.target.value)) change({ zone: event.target.value });
          }}
        />
        <datalist id="zones">
          {ZONES.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </Form.Group>
      {mistake !== '' && (
        <p className="sm mb-2 problem" role="alert">
          {mistake}
        </p>
      )}
      <Button type="submit" variant="primary">
        Shine here
      </Button>
    </form>
  );
}

/** The strip under the top bar: what every view is looking at. */
export function BeamBar(): JSX.Element {
  const { at, again } = useAsked();
  const { beam, change } = useBeam(at);
  const location = useLocation();
  const [open, setOpen] = useState(false);
  const [copied, setCopied] = useState(false);
  const from = DateTime.fromISO(beam.window.from);
  const to = DateTime.fromISO(beam.window.to);
  const length = to.diff(from);
  const move = (direction: 1 | -1): void => {
    const shift = length.mapUnits((value) => value * direction);
    change({
      from: from.plus(shift).toUTC().toISO({ suppressMilliseconds: true }) ?? '',
      to: to.plus(shift).toUTC().toISO({ suppressMilliseconds: true }) ?? '',
    });
  };
  const widen = (): void => {
    const half = length.mapUnits((value) => value / 2);
    change({
      from: from.minus(half).toUTC().toISO({ suppressMilliseconds: true }) ?? '',
      to: to.plus(half).toUTC().toISO({ suppressMilliseconds: true }) ?? '',
    });
  };
  const seconds = Math.round(length.as('seconds'));
  const share = (): void => {
    const address = new URL(window.location.href);
    // A colleague who opens it later must see the same stretch of time.
    address.searchParams.delete('last');
    address.searchParams.set('from', beam.window.from);
    address.searchParams.set('to', beam.window.to);
    address.searchParams.set('zone', beam.zone);
    void navigator.clipboard.writeText(address.toString()).then(() => setCopied(true));
  };
  return (
    <div className="beam" role="region" aria-label="Beam: what every view is looking at">
      <span className="beam-name">Beam</span>
      <span className="beam-window">
        <button type="button" aria-label="Earlier by the whole window" onClick={() => move(-1)}>
          <CaretLeft />
        </button>
        <Dropdown show={open} onToggle={setOpen} autoClose="outside">
          <Dropdown.Toggle as="button" type="button" title="Change the window">
            {windowText(beam)}{' '}
            <span className="beam-zone">
              · {beam.zone} · {beam.last === null ? span(seconds) : `last ${beam.last}`}
            </span>
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {presets.map((preset) => (
              <Dropdown.Item
                key={preset.last}
                active={preset.last === beam.last}
                onClick={() => {
                  again();
                  change({ last: preset.last });
                  setOpen(false);
                }}
              >
                {preset.label}
              </Dropdown.Item>
            ))}
            <Dropdown.Divider />
            {open && <ExactTimes beam={beam} change={change} onDone={() => setOpen(false)} />}
          </Dropdown.Menu>
        </Dropdown>
        <button type="button" aria-label="Later by the whole window" onClick={() => move(1)}>
          <CaretRight />
        </button>
        <button type="button" aria-label="Twice as wide" title="Twice as wide" onClick={widen}>
          <ArrowsOutLineHorizontal />
        </button>
      </span>
      <CarriedSlips beam={beam} path={location.pathname} change={change} />
      <span className="grow" />
      {location.pathname === '/hunt' && (
        <Form.Check
          id="follow-live"
          type="switch"
          className="beam-live"
          label="Follow live"
          checked={beam.live}
          onChange={(event) => change({ live: event.target.checked })}
        />
      )}
      <Button variant="outline-secondary" onClick={share} onBlur={() => setCopied(false)}>
        <LinkSimple aria-hidden /> {copied ? 'Link copied' : 'Share link'}
      </Button>
    </div>
  );
}
