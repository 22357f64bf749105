import { useQuery } from '@tanstack/react-query';
import { geoGraticule10, geoNaturalEarth1, geoPath } from 'd3-geo';
import { type JSX, useContext, useMemo, useRef } from 'react';
import { feature } from 'topojson-client';
import type { Topology } from 'topojson-specification';
import world from 'world-atlas/land-110m.json';
import { runHunt } from '../../../core/wire/endpoints/hunts.js';
import { answerTo } from '../../api/call.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { count, shortened } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { useWidth } from '../../ui/use-width.js';
import { onPress, pickedOf, type PictureProps, walkMarks } from './picture.js';
import { endsOf, ToldJourneys } from './told-journeys.js';
import { type Journey, mapHunt, type Place, placeRows } from './places.js';
import { columnCalled, placesOf } from './shape.js';

const atlas = world as unknown as Topology;
const land = feature(atlas, atlas.objects['land'] ?? { type: 'GeometryCollection', geometries: [] });
const HEIGHT = 430;
const MARGIN = 46;
/** A map shows at least so many degrees, so that one place still has surroundings. */
const MIN_SPAN = 16;
/** Names that are tried beside their places; the table has the rest. */
const MAX_NAMES = 30;

/** Corners of what is shown: the places and some surroundings. */
function cornersOf(places: readonly Place[]): { type: 'MultiPoint'; coordinates: [number, number][] } {
  const lats = places.map(({ lat }) => lat);
  const lons = places.map(({ lon }) => lon);
  const span = (least: number, most: number, low: number, high: number): [number, number] => {
    const more = Math.max(0, MIN_SPAN - (most - least)) / 2 + 2;
    return [Math.max(low, least - more), Math.min(high, most + more)];
  };
  const [south, north] = span(Math.min(...lats), Math.max(...lats), -85, 85);
  const [west, east] = span(Math.min(...lons), Math.max(...lons), -180, 180);
  return {
    type: 'MultiPoint',
    coordinates: [
      [west, south],
      [west, north],
      [east, south],
      [east, north],
    ],
  };
}

const MAX_NAME_LENGTH = 28;
const shortName = ({ name }: Place): string => shortened(name, MAX_NAME_LENGTH);
/** Dots come in three sizes, so that they can be told apart; never by exact area. */
const classes = [
  { words: '1 to 9', from: 0, to: 10, r: 3 },
  { words: '10 to 99', from: 10, to: 100, r: 5 },
  { words: '100 or more', from: 100, to: Infinity, r: 8 },
] as const;
const classOf = (events: number): (typeof classes)[number] =>
  classes.find(({ to }) => events < to) ?? classes[2];

const SIGN = 7.6;
const HIGH = 15;

/** Which names fit beside their places without standing in each other's way, and on which side. */
function namesThatFit(
  places: readonly Place[],
  spot: (place: Place) => [number, number],
  width: number,
): Map<number, 'left' | 'right'> {
  const taken: { x: number; y: number; width: number }[] = [];
  const fitting = new Map<number, 'left' | 'right'>();
  places.slice(0, MAX_NAMES).forEach((place, i) => {
    const [x, y] = spot(place);
    const long = shortName(place).length * SIGN;
    for (const side of ['right', 'left'] as const) {
      const box = { x: side === 'right' ? x + 11 : x - 11 - long, y, width: long };
      const inside = box.x > 0 && box.x + box.width < width;
      const free = taken.every(
        (other) =>
          Math.abs(other.y - box.y) >= HIGH || other.x > box.x + box.width || other.x + other.width < box.x,
      );
      if (!inside || !free) continue;
      taken.push(box);
      fitting.set(i, side);
      return;
    }
  });
  return fitting;
}

/** Journeys between the same places as one line. */
function bundled(journeys: readonly Journey[]): (Journey & { readonly times: number })[] {
  const found = new Map<string, Journey & { times: number }>();
  for (const journey of journeys) {
    const key = `${journey.from.lat} ${journey.from.lon} ${journey.to.lat} ${journey.to.lon}`;
    const known = found.get(key);
    if (known === undefined) found.set(key, { ...journey, times: 1 });
    else known.times++;
  }
  return [...found.values()];
}

/** The places of the rows by how many stand there; journeys as lines to the place come to. */
export function MapPicture({ columns, rows, question, onPick, room }: PictureProps): JSX.Element {
  const by = placesOf(columns, question.text) ?? 'columns';
  const text = mapHunt(by, question.text);
  const asked = useQuery({
    ...answerTo(runHunt, { body: { ...question, text, limit: 1000, shares: false } }),
    enabled: by !== 'columns',
    staleTime: Infinity,
    retry: false,
  });
  const own = useMemo(
    () => (by === 'columns' ? { columns, rows } : asked.data),
    [by, columns, rows, asked.data],
  );
  const placed = useMemo(
    () => (own === undefined ? null : placeRows(by, own.columns, own.rows as readonly HuntRow[])),
    [by, own],
  );
  if (asked.isError)
    return (
      <Failed title="There is no map of this">
        {by === 'journeys'
          ? 'A map of journeys needs “travel” to be the last step that makes a table, without “show” after it. '
          : ''}
        {asked.error.message}
      </Failed>
    );
  if (placed === null || own === undefined) return <Reading title="Finding the places" />;
  if (placed.places.length === 0)
    return <Empty title="No places">None of the rows says where it happened.</Empty>;
  const pick = (row: number, name: string, at: { x: number; y: number }): void => {
    const cells = (own.rows as readonly HuntRow[])[row];
    const column = own.columns[columnCalled(own.columns, name)] ?? own.columns[0];
    if (cells === undefined || column === undefined) return;
    const picked = pickedOf(own.columns, column, cells);
    // What the map counted itself is no row of the result.
    onPick(by === 'events' ? { column: picked.column, value: picked.value } : picked, at);
  };
  return (
    <Drawing
      placed={placed}
      onPick={(row, to) => (at) => pick(row, to ? 'to_city' : 'city', at)}
      journeys={by === 'journeys'}
      room={room}
    />
  );
}

function Drawing({
  placed: { places, journeys: lines, without },
  journeys,
  onPick,
  room,
}: {
  readonly placed: ReturnType<typeof placeRows>;
  readonly journeys: boolean;
  readonly room: PictureProps['room'];
  readonly onPick: (row: number, to: boolean) => (at: { x: number; y: number }) => void;
}): JSX.Element {
  const frame = useRef<HTMLDivElement>(null);
  const measured = useWidth(frame);
  const width = room?.width ?? Math.max(320, measured - 32);
  const height = room === undefined ? HEIGHT : Math.max(110, room.height - 106);
  const margin = room === undefined ? MARGIN : 14;
  const projection = geoNaturalEarth1().fitExtent(
    [
      [margin, margin],
      [width - margin, height - margin],
    ],
    cornersOf(places),
  );
  const path = geoPath(projection);
  /** The shortest way over the globe. */
  const lineOf = (from: Place, to: Place): string => {
    const coordinates = [from, to].map(({ lat, lon }) => [lon, lat]);
    return path({ type: 'LineString', coordinates }) ?? '';
  };
  const spot = ({ lat, lon }: Place): [number, number] => projection([lon, lat]) ?? [0, 0];
  const named = room === undefined ? namesThatFit(places, spot, width) : new Map<number, 'left' | 'right'>();
  const told = useContext(ToldJourneys).flatMap((journey) => {
    const ends = endsOf(journey, places);
    return ends === null ? [] : [{ ...ends, words: journey.words }];
  });
  const arrived = new Set([...lines, ...told].map(({ to }) => `${to.lat} ${to.lon}`));
  return (
    <div ref={frame} className={room === undefined ? 'inset' : ''}>
      <svg width={width} height={height} className="map" role="group" aria-label="Map" onKeyDown={walkMarks}>
        <rect width={width} height={height} fill="#c3cecf" />
        <path d={path(geoGraticule10()) ?? ''} fill="none" stroke="#b2c0c2" strokeWidth="0.6" />
        <path d={path(land) ?? ''} fill="#f1e5c9" stroke="#7f6f52" strokeWidth="0.8" />
        {bundled(lines).map(({ from, to, row, times }) => (
          <path
            key={`${from.name} ${to.name}`}
            d={lineOf(from, to)}
            fill="none"
            stroke="var(--sev-4)"
            strokeWidth={1 + Math.min(4, Math.log2(times) / 2)}
            strokeOpacity="0.7"
            className="mark"
            role="button"
            tabIndex={0}
            aria-label={`from ${from.name} to ${to.name}: ${count(times)}`}
            {...onPress(onPick(row, true))}
          >
            <title>{`${from.name} → ${to.name}: ${count(times)}`}</title>
          </path>
        ))}
        {told.map(({ from, to, words }) => {
          const [[x1, y1], [x2, y2]] = [spot(from), spot(to)];
          const half = (words.length * SIGN) / 2;
          return (
            <g key={`${from.name} ${to.name}`} className="told-journey">
              <path
                d={lineOf(from, to)}
                fill="none"
                stroke="var(--sev-4)"
                strokeWidth="1.6"
                strokeDasharray="5 4"
              >
                <title>{`${from.name} → ${to.name}: ${words}`}</title>
              </path>
              <text
                x={Math.max(half + 4, Math.min(width - half - 4, (x1 + x2) / 2))}
                y={Math.max(14, (y1 + y2) / 2 - 10)}
                textAnchor="middle"
                fontSize="12"
                fill="var(--sev-4)"
                stroke="#fffaec"
                strokeWidth="3"
                paintOrder="stroke"
              >
                {words}
              </text>
            </g>
          );
        })}
        {places.map((place, i) => {
          const [x, y] = spot(place);
          const odd = arrived.has(`${place.lat} ${place.lon}`);
          const r = classOf(place.events).r;
          return (
            <g
              key={`${place.lat} ${place.lon}`}
              transform={`translate(${x.toFixed(1)} ${y.toFixed(1)})`}
              className="mark"
              role="button"
              data-mark=""
              tabIndex={i === 0 ? 0 : -1}
              aria-label={`${place.name}: ${count(place.events)}`}
              {...onPress(onPick(place.row, odd))}
            >
              <title>{`${place.name}: ${count(place.events)}`}</title>
              {odd ? (
                <path d="M0 -7L7 0L0 7L-7 0Z" fill="var(--sev-4)" stroke="#fffaec" />
              ) : (
                <>
                  <circle r={r} fill="var(--c1)" fillOpacity="0.75" stroke="#fffaec" />
                </>
              )}
              {named.has(i) && (
                <text
                  x={(named.get(i) === 'left' ? -1 : 1) * (odd ? 11 : r + 6)}
                  y="4"
                  textAnchor={named.get(i) === 'left' ? 'end' : 'start'}
                  fontSize="12"
                  className="mono"
                  fill="var(--ink)"
                  stroke="#fffaec"
                  strokeWidth="3"
                  paintOrder="stroke"
                >
                  {shortName(place)}
                </text>
              )}
            </g>
          );
        })}
      </svg>
      <p className="legend mb-0">
        {classes.map(({ words, r, from, to }) => (
          <span key={words} className="legend-entry xs">
            <svg width="18" height="16" aria-hidden>
              <circle cx="9" cy="8" r={r} fill="var(--c1)" />
            </svg>
            <span>{words}</span> {count(places.filter(({ events }) => events >= from && events < to).length)}
          </span>
        ))}
      </p>
      <table className={room === undefined ? 'plain mt-2' : 'plain card-table'} aria-label="Places">
        <thead className={room === undefined ? '' : 'visually-hidden'}>
          <tr>
            <th scope="col">place</th>
            <th scope="col" className="num">
              {journeys ? 'journeys' : 'rows'}
            </th>
          </tr>
        </thead>
        <tbody>
          {places.slice(0, room === undefined ? 100 : 3).map((place) => (
            <tr key={`${place.lat} ${place.lon}`}>
              <td className="mono">{place.name}</td>
              <td className="num">{count(place.events)}</td>
            </tr>
          ))}
          {without > 0 && (
            <tr>
              <td className="soft">without a place</td>
              <td className="num">{count(without)}</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}
