import type { ChangeEvent, JSX } from 'react';
import { Form } from 'react-bootstrap';
import type { RecipeTried } from '../../../core/wire/sources.js';
import { counted } from '../../ui/format.js';
import { sampleOf } from './sample-of.js';

/** Where a sample is pasted, or a file is chosen as one. */
export function Sample({
  text,
  busy,
  onLook,
}: {
  text: string;
  busy: boolean;
  onLook: (text: string) => void;
}): JSX.Element {
  return (
    <Form.Group controlId="source-sample" className="mb-2">
      <Form.Label className="sm mb-0">
        A sample of its records: paste some lines, or choose a file{' '}
        {busy && <span className="soft">(looking)</span>}
      </Form.Label>
      <Form.Control
        as="textarea"
        rows={4}
        autoFocus
        className="mono sm"
        value={text}
        placeholder="Nov 14 08:03:12 gate-01 sshd[811]: Failed password for teo.marrash from 198.18.40.77 port 51234 ssh2"
        onChange={(event) => onLook(event.target.value)}
      />
      <input
        type="file"
        className="sm mt-1"
        aria-label="A file as the sample"
        onChange={(event: ChangeEvent<HTMLInputElement>) => {
          const file = event.target.files?.[0];
          if (file !== undefined) void sampleOf(file).then(onLook);
        }}
      />
    </Form.Group>
  );
}

const SHOWN = 3;
const LEFT_OUT: ReadonlySet<string> = new Set(['message', 'received']);

/** What was seen in the sample, and the first records as a recipe of its own would read them. */
export function Seen({ tried }: { tried: RecipeTried }): JSX.Element {
  const left = tried.coverage.filter(({ used }) => !used).length;
  const events = tried.records.filter(({ became }) => became === 'event');
  return (
    <div className="sm mb-2" role="status">
      <p className="mb-1">
        {counted(tried.records.length, 'record')}
        {tried.fitting.length > 0
          ? `: ${tried.fitting[0]?.title ?? ''} reads them.`
          : ` of ${tried.recognised.format}. No recipe that ships reads them: one of its own is made, ${
              left === 0
                ? 'with nothing left to map'
                : `with ${counted(left, 'field')} left as the source calls them`
            }.`}
      </p>
      {tried.fitting.length === 0 && (
        <ul className="mono xs mb-0 anywhere">
          {events.slice(0, SHOWN).map(({ raw, event }) => (
            <li key={raw}>
              {Object.entries(event ?? {})
                .filter(([name]) => !LEFT_OUT.has(name))
                .map(([name, value]) => `${name}=${String(value)}`)
                .join(' ')}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
