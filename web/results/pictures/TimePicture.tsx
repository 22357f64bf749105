import { useMemo, useRef, useState, type JSX } from 'react';
import { DateTime } from 'luxon';
import { count, showTime } from '../../ui/format.js';
import { timeTicks } from '../../ui/time-ticks.js';
import { useWidth } from '../../ui/use-width.js';
import {
  axisTicks,
  figure,
  isMarked,
  OUTCOMES,
  onPress,
  pickedOf,
  SERIES,
  walkMarks,
  type PictureProps,
} from './picture.js';
import { linesOf, nameOf, OTHERS, shapeOf } from './shape.js';
import { axisRoom, FigureAxis } from './FigureAxis.js';
import { Tip, type TipAt } from './Tip.js';

const FOOT = 20;
const HEAD = 6;

/**
 * Figures over time: lines, areas or stacked bars, a series for each of the heaviest keys, what is usual as a pale band
 * behind them. Drawn by ourselves, since charting packages put the marks of time at round hours of UTC or of the
 * browser, not of the zone that is read, and their marks cannot be walked and opened by keyboard.
 */
export function TimePicture(
  props: PictureProps & { readonly mode: 'line' | 'area' | 'stacked' },
): JSX.Element {
  const { columns, rows, zone, onPick, mode, usual, options, room, scaleTo, marked, beam } = props;
  const frame = useRef<HTMLDivElement>(null);
  const measured = useWidth(frame);
  const width = Math.max(160, room?.width ?? measured);
  const [tip, setTip] = useState<TipAt | null>(null);
  const {
    series,
    points: all,
    totals,
    keys,
  } = useMemo(() => linesOf(columns, rows, mode !== 'line'), [columns, rows, mode]);
  // What is under way is no fall: a stretch that the Beam ends in is compared once it is whole.
  const points =
    usual != null && mode === 'line' && beam !== undefined
      ? all.filter((point, i) => i === 0 || Date.parse(String(point['time'])) + gapOf(all) <= beam.to)
      : all;
  const { keys: keyColumns, time, figure: figureAt } = shapeOf(columns);
  const [keyAt] = keyColumns;
  const times = points.map((point) => Date.parse(String(point['time'])));
  const band = (usual?.points ?? []).map((point) => ({ ...point, at: Date.parse(point.time) }));
  const step = smallestGap([...times, ...band.map(({ at }) => at)]);
  const from = Math.min(props.window?.from ?? Infinity, times[0] ?? Infinity, band[0]?.at ?? Infinity);
  const to = Math.max(props.window?.to ?? 0, (times.at(-1) ?? 0) + step, (band.at(-1)?.at ?? -step) + step);
  const sumOf = (point: (typeof points)[number]): number =>
    series.reduce((sum, name) => sum + Number(point[name] ?? 0), 0);
  const most = Math.max(
    1,
    scaleTo ?? 0,
    ...points.map((point) =>
      mode === 'line' ? Math.max(...series.map((name) => Number(point[name] ?? 0))) : sumOf(point),
    ),
    ...band.map(({ high }) => high),
  );
  const legend = series.length > 1 || keyAt !== undefined;
  const total = [...totals.values()].reduce((sum, one) => sum + one, 0);
  const head = options?.total === true;
  const height = Math.max(
    70,
    (room === undefined ? 320 : room.height) - (room !== undefined && legend ? 40 : 0) - (head ? 54 : 0),
  );
  const ticks = axisTicks(most);
  const left = axisRoom(ticks, options?.unit);
  const x = (at: number): number => left + ((at - from) / Math.max(1, to - from)) * (width - left - 6);
  const y = (value: number): number => HEAD + (1 - value / most) * (height - HEAD - FOOT);
  const slot = Math.max(1, x(from + step) - x(from));
  const byOutcome = columns[keyAt ?? -1]?.field === 'outcome';
  const colour = (i: number): string =>
    (byOutcome ? OUTCOMES[series[i] ?? ''] : undefined) ??
    (series[i] === OTHERS ? 'var(--c6)' : (SERIES[i] ?? 'var(--c1)'));
  const pick = (name: string, moment: string | null, at: { x: number; y: number }): void => {
    const row = rows.find(
      (one) =>
        (keyAt === undefined || nameOf(one[keyAt]) === name) &&
        (moment === null || nameOf(one[time ?? 0]) === moment),
    );
    const column = columns[moment === null ? (keyAt ?? figureAt ?? 0) : (time ?? 0)];
    if (row !== undefined && column !== undefined) onPick(pickedOf(columns, column, row), at);
  };
  const label = (moment: string): string => showTime(moment, zone, 'minute');
  const wordsAt = (point: (typeof points)[number]): string =>
    `${label(String(point['time']))}: ${series
      .filter((name) => Number(point[name] ?? 0) !== 0 || series.length === 1)
      .map(
        (name) =>
          `${series.length === 1 ? '' : `${name} `}${figure(Number(point[name] ?? 0), options?.unit)}`,
      )
      .join(', ')}${usualAt(String(point['time']))}`;
  const usualBy = new Map(band.map((point) => [point.at, point]));
  const usualAt = (moment: string): string => {
    const point = usualBy.get(Date.parse(moment));
    return point === undefined ? '' : `; usual ${figure(point.middle, options?.unit)}`;
  };
  const lines = (name: string): string =>
    points
      .map(
        (point, i) =>
          `${i === 0 ? 'M' : 'L'}${x((times[i] ?? 0) + step / 2).toFixed(1)},${y(Number(point[name] ?? 0)).toFixed(1)}`,
      )
      .join('');
  const bandPath =
    band.length < 2
      ? ''
      : `M${band.map(({ at, high }) => `${x(at + step / 2).toFixed(1)},${y(high).toFixed(1)}`).join('L')}L${[
          ...band,
        ]
          .reverse()
          .map(({ at, low }) => `${x(at + step / 2).toFixed(1)},${y(low).toFixed(1)}`)
          .join('L')}Z`;
  const until = times.at(-1);
  /** As far as was counted. */
  const counted = Math.min(
    (all.length === 0 ? from : Date.parse(String(all.at(-1)?.['time']))) + step,
    beam?.to ?? Infinity,
  );
  return (
    <div ref={frame} className={room === undefined ? 'inset time-picture' : 'time-picture'}>
      {head && (
        <p className="total-line">
          <button
            type="button"
            className="big plain-button"
            onClick={(event) => pick(series[0] ?? '', null, { x: event.clientX, y: event.clientY })}
          >
            {figure(total, options?.unit)}
          </button>{' '}
          <span className="soft">
            {againstUsual(band, until === undefined ? null : counted, step, zone, options?.unit, usual)}
          </span>
        </p>
      )}
      <svg
        width={width}
        height={height}
        role="group"
        aria-label={`${columns[figureAt ?? 0]?.name ?? ''} over time`}
        onKeyDown={walkMarks}
      >
        {beam !== undefined && beam.from > from + 1 && (
          <rect
            x={x(beam.from)}
            y={0}
            width={Math.max(1, x(Math.min(beam.to, to)) - x(beam.from))}
            height={height - FOOT}
            fill="var(--amber-wash)"
          />
        )}
        <FigureAxis ticks={ticks} y={y} left={left} right={width - 6} unit={options?.unit} />
        {timeTicks(from, to, zone, Math.max(2, Math.floor(width / 92))).map((tick) => (
          <text
            key={tick.time}
            x={Math.max(left, Math.min(width - 22, x(tick.time)))}
            y={height - 5}
            textAnchor="middle"
            fontSize="12"
            fill="var(--ink-soft)"
          >
            {tick.label}
          </text>
        ))}
        {bandPath !== '' && (
          <path
            d={bandPath}
            fill="var(--c5)"
            fillOpacity=".5"
            stroke="var(--c5)"
            strokeWidth="3"
            strokeOpacity=".5"
            strokeLinejoin="round"
          />
        )}
        {mode === 'stacked' &&
          points.map((point, i) => {
            let sum = 0;
            return series.map((name, at) => {
              const value = Number(point[name] ?? 0);
              if (value === 0) return null;
              const top = y((sum += value));
              return (
                <rect
                  key={`${String(point['time'])} ${name}`}
                  x={x(times[i] ?? 0) + slot * 0.08}
                  y={top}
                  width={Math.max(1, slot * 0.84)}
                  height={Math.max(0.8, y(sum - value) - top)}
                  fill={colour(at)}
                />
              );
            });
          })}
        {mode === 'area' &&
          [...series].reverse().map((name) => {
            const at = series.indexOf(name);
            const upTo = (point: (typeof points)[number]): number =>
              series.slice(0, at + 1).reduce((sum, one) => sum + Number(point[one] ?? 0), 0);
            const under = (point: (typeof points)[number]): number => upTo(point) - Number(point[name] ?? 0);
            const edge = points.map((point, i) => `${x((times[i] ?? 0) + step / 2)},${y(upTo(point))}`);
            const back = points
              .map((point, i) => `${x((times[i] ?? 0) + step / 2)},${y(under(point))}`)
              .reverse();
            return (
              <path
                key={name}
                d={`M${edge.join('L')}L${back.join('L')}Z`}
                fill={colour(at)}
                fillOpacity=".85"
              />
            );
          })}
        {mode === 'line' &&
          series.map((name, at) => (
            <path
              key={name}
              d={lines(name)}
              fill="none"
              stroke={colour(at)}
              strokeWidth="1.8"
              strokeLinejoin="round"
            />
          ))}
        {mode === 'line' && series.length === 1 && until !== undefined && (
          <circle
            cx={x(until + step / 2)}
            cy={y(Number(points.at(-1)?.[series[0] ?? ''] ?? 0))}
            r="3.4"
            fill="var(--c1)"
          />
        )}
        {points.map((point, i) => {
          const words = wordsAt(point);
          const at = x(times[i] ?? 0);
          const show = (): void => setTip({ x: Math.min(width - 150, at), y: 4, words });
          const heaviest = [...series].sort((a, b) => Number(point[b] ?? 0) - Number(point[a] ?? 0))[0] ?? '';
          return (
            <rect
              key={String(point['time'])}
              data-mark=""
              x={at}
              y={0}
              width={slot}
              height={height - FOOT}
              fill="transparent"
              className="mark column-mark"
              role="button"
              tabIndex={i === 0 ? 0 : -1}
              aria-label={words}
              onMouseEnter={show}
              onMouseLeave={() => setTip(null)}
              onFocus={show}
              onBlur={() => setTip(null)}
              {...onPress((where) => pick(heaviest, String(point['time']), where))}
            />
          );
        })}
      </svg>
      <Tip tip={tip} />
      {usual != null && usual.by === 'none' && room !== undefined && (
        <p className="xs faint mb-0">{usual.words}</p>
      )}
      {legend && (
        <p className={`legend ${room === undefined ? 'inset' : 'mb-0'}`}>
          {series.map((name, i) => (
            <button
              key={name}
              type="button"
              className={`legend-entry xs${isMarked(marked, columns[keyAt ?? -1], name) ? ' carried' : ''}`}
              data-legend={name}
              data-colour={colour(i)}
              aria-label={`${name}, ${count(totals.get(name) ?? 0)}`}
              disabled={name === OTHERS}
              onClick={(event) => pick(name, null, { x: event.clientX, y: event.clientY })}
            >
              <i style={{ background: colour(i) }} />
              <span>{name === OTHERS ? `${keys - series.length + 1} others` : name}</span>{' '}
              {figure(totals.get(name) ?? 0, options?.unit)}
            </button>
          ))}
          {scaleTo !== undefined && room !== undefined && <span className="faint">same scale</span>}
        </p>
      )}
    </div>
  );
}

const gapOf = (points: readonly Readonly<Record<string, string | number>>[]): number =>
  smallestGap(points.map((point) => Date.parse(String(point['time']))));

function smallestGap(times: readonly number[]): number {
  const sorted = [...new Set(times)].sort((a, b) => a - b);
  let least = Infinity;
  for (let i = 1; i < sorted.length; i++) least = Math.min(least, (sorted[i] ?? 0) - (sorted[i - 1] ?? 0));
  return Number.isFinite(least) ? least : 3_600_000;
}

/** "by 09:00. A usual Saturday has 648 by now." */
function againstUsual(
  band: readonly { readonly at: number; readonly middle: number }[],
  until: number | null,
  step: number,
  zone: string,
  unit: 'bytes' | undefined,
  usual: PictureProps['usual'],
): string {
  if (until === null) return '';
  const end = DateTime.fromMillis(until, { zone });
  const by = `by ${end.toFormat('HH:mm')}`;
  if (usual == null || usual.by === 'none' || band.length === 0)
    return usual == null ? by : `${by}; ${usual.words}.`;
  const now = band.reduce((sum, { at, middle }) => sum + (at + step <= until ? middle : 0), 0);
  const day = usual.by === 'weekday' ? end.minus({ milliseconds: 1 }).toFormat('cccc') : 'day';
  return `${by}. A usual ${day} has ${figure(Math.round(now), unit)} by now.`;
}
