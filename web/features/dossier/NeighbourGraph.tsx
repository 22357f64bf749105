import { type JSX, type KeyboardEvent, useRef } from 'react';
import { Link } from 'react-router';
import type { NeighbourWire } from '../../../core/wire/dossiers.js';
import { dossierAddress } from '../../results/dossier-address.js';

const WIDTH = 380;
const HEIGHT = 128;
/** How far the furthest neighbour stands from the middle, pixels; beside it is room for its name. */
const REACH = 62;
const MAX_LETTERS = 14;

const cut = (text: string): string =>
  text.length > MAX_LETTERS ? `${text.slice(0, MAX_LETTERS - 1)}…` : text;
const MAX_NODES = 8;

/** A subject among those nearest to it: the nearer, the more and rarer what they share. Arrows walk, Enter opens. */
export function NeighbourGraph({
  subject,
  neighbours,
  search,
}: {
  readonly subject: string;
  readonly neighbours: readonly NeighbourWire[];
  readonly search: string;
}): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const shown = neighbours.slice(0, MAX_NODES);
  const most = Math.max(...shown.map(({ score }) => score), 0.001);
  const nodes = shown.map((one, i) => {
    const side = i % 2 === 0 ? -1 : 1;
    const lines = Math.ceil(shown.length / 2);
    const far = 1 - 0.55 * (one.score / most);
    return {
      ...one,
      x: WIDTH / 2 + side * (18 + far * REACH),
      y: ((Math.floor(i / 2) + 0.5) * HEIGHT) / lines,
    };
  });
  const walk = (event: KeyboardEvent): void => {
    const by =
      event.key === 'ArrowRight' || event.key === 'ArrowDown'
        ? 1
        : event.key === 'ArrowLeft' || event.key === 'ArrowUp'
          ? -1
          : 0;
    if (by === 0) return;
    event.preventDefault();
    const links = [...(place.current?.querySelectorAll<HTMLElement>('a') ?? [])];
    const now = links.findIndex((link) => link === document.activeElement);
    links[(now + by + links.length) % links.length]?.focus();
  };
  return (
    <div
      ref={place}
      className="neighbour-graph"
      role="group"
      aria-label={`${subject} and its nearest neighbours; arrows walk`}
      onKeyDown={walk}
      style={{ width: WIDTH, height: HEIGHT }}
    >
      <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
        {nodes.map(({ kind, name, x, y, score }) => (
          <path
            key={`${kind} ${name}`}
            d={`M${WIDTH / 2} ${HEIGHT / 2}L${x} ${y}`}
            stroke="var(--paper-rule)"
            strokeWidth={1 + 2 * (score / most)}
          />
        ))}
        {nodes.map(({ kind, name, x, y }) => (
          <text
            key={`name of ${kind} ${name}`}
            x={x < WIDTH / 2 ? x - 11 : x + 11}
            y={y + 4}
            textAnchor={x < WIDTH / 2 ? 'end' : 'start'}
          >
            {cut(name)}
          </text>
        ))}
        <circle cx={WIDTH / 2} cy={HEIGHT / 2} r="6" fill="var(--amber)" stroke="var(--amber-ink)" />
      </svg>
      {nodes.map(({ kind, name, x, y, alerts, shared }) => (
        <Link
          key={`${kind} ${name}`}
          to={dossierAddress(kind, name, search)}
          className={`neighbour${alerts > 0 ? ' has-alerts' : ''}`}
          style={{ left: x, top: y }}
          title={`${kind} ${name}: ${shared.join(', ')}`}
          aria-label={`${kind} ${name}, ${shared[0] ?? ''}${alerts > 0 ? `, ${alerts} open alerts` : ''}`}
        />
      ))}
    </div>
  );
}
