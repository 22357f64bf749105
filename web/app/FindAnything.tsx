import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, type KeyboardEvent, useEffect, useId, useState } from 'react';
import { Form } from 'react-bootstrap';
import { useNavigate, useSearchParams } from 'react-router';
import type { Found } from '../../core/wire/dossiers.js';
import { findAnything } from '../../core/wire/endpoints/dossiers.js';
import { answerTo } from '../api/call.js';
import { beamSearch } from '../beam/beam.js';
import { Dialog } from '../kit/Dialog.js';
import { places } from './places.js';

/** Whoever types is waited for so long. */
const REST_MILLISECONDS = 80;
const MAX_SHOWN = 12;

const kindWords: Readonly<Record<Found['kind'], string>> = {
  user: 'user',
  host: 'host',
  address: 'address',
  account: 'cloud account',
  resource: 'resource',
  application: 'application',
  hunt: 'hunt',
  board: 'board',
  rule: 'rule',
  list: 'list',
  source: 'source',
  case: 'case',
  alert: 'alert',
  place: 'place',
};

const usualPlaces: readonly Found[] = places.map(({ path, name }) => ({
  kind: 'place',
  name,
  why: 'place',
  address: path,
}));

/** The address of something found, under the Beam. */
export function underBeam(address: string, search: string): string {
  const [path = '', own = ''] = address.split('?');
  const query = new URLSearchParams(search);
  for (const [name, value] of new URLSearchParams(own)) query.set(name, value);
  const text = query.toString();
  return text === '' ? path : `${path}?${text}`;
}

/** One box for everything: names, ids, addresses, what people keep, places, and the hunt for what was typed. */
export function FindAnything({ onClose }: { onClose: () => void }): JSX.Element {
  const navigate = useNavigate();
  const [parameters] = useSearchParams();
  const [typed, setTyped] = useState('');
  const [word, setWord] = useState('');
  const [at, setAt] = useState(0);
  const list = useId();
  useEffect(() => {
    const timer = window.setTimeout(() => setWord(typed.trim()), REST_MILLISECONDS);
    return () => window.clearTimeout(timer);
  }, [typed]);
  const client = useQueryClient();
  const { data, error, isFetching, isPlaceholderData } = useQuery({
    ...answerTo(findAnything, { query: { q: word, limit: MAX_SHOWN } }),
    enabled: word !== '',
    placeholderData: (before) => before,
    staleTime: 10_000,
    retry: false,
  });
  const found = word === '' ? usualPlaces : (data?.found ?? []);
  const chosen = Math.min(at, Math.max(0, found.length - 1));
  const open = (one: Found | undefined): void => {
    if (one === undefined) return;
    onClose();
    void navigate(underBeam(one.address, beamSearch(parameters)));
  };
  // What was typed last may still be on its way: then the first of what it finds is opened, not of what stood there.
  const send = async (): Promise<void> => {
    const last = typed.trim();
    if (last === word && !isPlaceholderData) return open(found[chosen]);
    if (last === '') return;
    const answer = await client
      .fetchQuery(answerTo(findAnything, { query: { q: last, limit: MAX_SHOWN } }))
      .catch(() => null);
    if (answer === null) setWord(last);
    else open(answer.found[0]);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by !== 0) {
      event.preventDefault();
      setAt((chosen + by + found.length) % Math.max(1, found.length));
    }
  };
  return (
    <Dialog title="Find anything" onClose={onClose} size="lg" onSend={() => void send()}>
      <Form.Control
        autoFocus
        className="mono"
        maxLength={1000}
        placeholder="name, id, address, network, hash, technique, or any text"
        aria-label="What to find"
        role="combobox"
        aria-expanded={found.length > 0}
        aria-controls={list}
        aria-activedescendant={found.length > 0 ? `${list}-${chosen}` : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
      />
      <ul id={list} role="listbox" aria-label="What was found" aria-busy={isFetching} className="found">
        {found.map((one, i) => (
          <li
            key={`${one.kind} ${one.address}`}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={i === chosen ? 'is-chosen' : ''}
            onPointerMove={() => setAt(i)}
            onClick={() => open(one)}
          >
            <span className="found-kind xs soft">{kindWords[one.kind]}</span>
            <span className={`cut${one.title === undefined && one.kind !== 'place' ? ' mono' : ''}`}>
              {one.title ?? one.name}
            </span>
            <span className="xs soft cut found-why">{one.why}</span>
          </li>
        ))}
      </ul>
      {error !== null && (
        <p className="sm problem" role="alert">
          {error.message}
        </p>
      )}
      <p className="xs soft mb-0">
        <kbd>↑</kbd> <kbd>↓</kbd> choose · <kbd>Enter</kbd> open · <kbd>Esc</kbd> close
      </p>
    </Dialog>
  );
}
