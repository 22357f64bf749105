import { type JSX, useState } from 'react';
import { Form } from 'react-bootstrap';
import { type Entry, reference } from '../../../core/wick/reference.js';
import { Dialog } from '../../kit/Dialog.js';

interface ReferenceProps {
  /** Puts an example into the hunt. */
  readonly onTry: (example: string) => void;
  readonly onClose: () => void;
}

const fits = ({ call, meaning }: Entry, looked: string): boolean =>
  `${call} ${meaning}`.toLowerCase().includes(looked.trim().toLowerCase());

/** The whole language, from the definitions that check and complete hunts; its examples can be tried. */
export function Reference({ onTry, onClose }: ReferenceProps): JSX.Element {
  const [looked, setLooked] = useState('');
  const chapters = reference
    .map(({ title, entries }) => ({ title, entries: entries.filter((entry) => fits(entry, looked)) }))
    .filter(({ entries }) => entries.length > 0);
  return (
    <Dialog title="The hunt language" onClose={onClose} size="lg">
      <Form.Control
        size="sm"
        type="search"
        placeholder="Look for a word, such as first seen"
        aria-label="Look for a word"
        value={looked}
        autoFocus
        onChange={(event) => setLooked(event.target.value)}
      />
      {chapters.length === 0 && <p className="soft pt-2">Nothing in the language speaks of that.</p>}
      {chapters.map(({ title, entries }) => (
        <section key={title}>
          <h3 className="section-head pt-3">{title}</h3>
          {entries.map((entry) => (
            <div key={entry.name} className="reference-line">
              <code className="mono">{entry.call}</code>
              <span className="sm soft">{entry.meaning}</span>
              {entry.example !== undefined && (
                <span className="sm">
                  <code className="mono">{entry.example}</code>{' '}
                  <button type="button" className="link" onClick={() => onTry(entry.example ?? '')}>
                    Add to the hunt
                  </button>
                </span>
              )}
            </div>
          ))}
        </section>
      ))}
    </Dialog>
  );
}
