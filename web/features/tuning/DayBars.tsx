import type { JSX } from 'react';
import type { StudyWire } from '../../../core/wire/tuning.js';
import { count, showTime } from '../../ui/format.js';

type Days = StudyWire['days'];

const DAY = 86_400_000;

/** Whole days of a window, in UTC. */
export function daysOf(window: { readonly from: string; readonly to: string }): string[] {
  const days: string[] = [];
  for (let at = Math.floor(Date.parse(window.from) / DAY) * DAY; at < Date.parse(window.to); at += DAY)
    days.push(new Date(at).toISOString());
  return days;
}

const dayKey = (iso: string): number => Math.floor(Date.parse(iso) / DAY);

/** The next round number above. */
function roundAbove(most: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(1, most)));
  return [1, 2, 4, 5, 8, 10].map((n) => n * step).find((n) => n >= most) ?? most;
}

/** Matches by the day, with days that held a real one marked beneath; the Beam lies over its days. */
export function MatchDays({
  days,
  window,
  beam,
  width = 432,
}: {
  days: Days;
  window: { readonly from: string; readonly to: string };
  beam: { readonly from: string; readonly to: string };
  width?: number;
}): JSX.Element {
  const all = daysOf(window);
  const known = new Map(days.map((one) => [dayKey(one.day), one]));
  const left = 40;
  const tall = 77;
  const step = (width - left) / Math.max(1, all.length);
  const top = roundAbove(Math.max(1, ...days.map(({ matches }) => matches)));
  const first = Math.floor(Date.parse(window.from) / DAY) * DAY;
  const xOf = (iso: string): number =>
    left + Math.min(all.length, Math.max(0, (Date.parse(iso) - first) / DAY)) * step;
  const held = days.filter(({ real }) => real > 0).length;
  const label = (at: number): string => {
    const day = all[at];
    return day === undefined
      ? ''
      : showTime(day, 'UTC', 'minute')
          .replace(/,? \d\d:\d\d.*$/, '')
          .replace(/ \d{4}$/, '');
  };
  return (
    <svg
      className="match-days"
      width={width}
      height="106"
      role="img"
      aria-label={`Matches per day over ${all.length} days; ${held === 0 ? 'no day' : `${held} days`} held real ones`}
    >
      <rect
        className="in-beam"
        x={xOf(beam.from)}
        y="0"
        width={Math.max(0, xOf(beam.to) - xOf(beam.from))}
        height={tall}
      />
      {[0, 0.5, 1].map((share) => (
        <g key={share}>
          <path className="hair" d={`M${left} ${tall + 0.5 - share * (tall - 7)}H${width}`} />
          <text x={left - 6} y={tall + 4 - share * (tall - 7)} textAnchor="end">
            {count(top * share)}
          </text>
        </g>
      ))}
      {all.map((day, i) => {
        const one = known.get(dayKey(day));
        const high =
          one === undefined ? 0 : Math.max(one.matches > 0 ? 1 : 0, (one.matches / top) * (tall - 7));
        const x = left + i * step;
        return (
          <g key={day}>
            <rect className="day" x={x + step * 0.15} y={tall - high} width={step * 0.7} height={high}>
              <title>{`${label(i)}: ${count(one?.matches ?? 0)} matches, ${count(one?.alerts ?? 0)} alerts, ${count(one?.real ?? 0)} real`}</title>
            </rect>
            {(one?.real ?? 0) > 0 && (
              <path className="real" d={`M${x + step / 2} ${tall + 4}l4 4-4 4-4-4z`} />
            )}
          </g>
        );
      })}
      {[1, Math.floor(all.length / 3), Math.floor((2 * all.length) / 3), all.length - 2].map((at, i) => (
        <text key={i} x={left + (at + 0.5) * step} y="104" textAnchor="middle">
          {label(at)}
        </text>
      ))}
    </svg>
  );
}

/** A row of small bars, a day each, on a scale that another row shares. */
export function SmallDays({
  days,
  window,
  top,
  kind,
}: {
  days: Days;
  window: { readonly from: string; readonly to: string };
  top: number;
  kind: 'before' | 'after';
}): JSX.Element {
  const all = daysOf(window);
  const known = new Map(days.map((one) => [dayKey(one.day), one]));
  const step = 214 / Math.max(1, all.length);
  return (
    <svg width="214" height="36" aria-hidden="true" className={`small-days ${kind}`}>
      <path className="hair" d="M0 35.5H214" />
      {all.map((day, i) => {
        const matches = known.get(dayKey(day))?.matches ?? 0;
        const high = matches === 0 ? 0 : Math.max(1, (matches / Math.max(1, top)) * 33);
        return <rect key={day} x={i * step + step * 0.2} y={35 - high} width={step * 0.6} height={high} />;
      })}
    </svg>
  );
}

/** Days that hold a real one, as marks beneath the rows. */
export function RealDays({
  days,
  window,
}: {
  days: Days;
  window: { readonly from: string; readonly to: string };
}): JSX.Element {
  const all = daysOf(window);
  const real = new Set(days.filter((one) => one.real > 0).map(({ day }) => dayKey(day)));
  const step = 214 / Math.max(1, all.length);
  return (
    <svg width="214" height="12" aria-hidden="true" className="match-days">
      {all.map((day, i) =>
        real.has(dayKey(day)) ? (
          <path key={day} className="real" d={`M${i * step + step / 2} 2l4 4-4 4-4-4z`} />
        ) : null,
      )}
    </svg>
  );
}
