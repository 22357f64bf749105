import { useRef, useState, type JSX } from 'react';
import {
  figure as inUnit,
  HEAT,
  isMarked,
  onPress,
  pickedOf,
  walkMarks,
  type PictureProps,
} from './picture.js';
import { showTime, shortened } from '../../ui/format.js';
import { useWidth } from '../../ui/use-width.js';
import { heatKey, heatOf, nameOf, shapeOf } from './shape.js';
import { Tip, type TipAt } from './Tip.js';

const ROW = 22;
/** Room for names across that stand at a slant, or upright in two lines. */
const SLANTED = 96;
const UPRIGHT = 30;
const SIGN = 6.4;

/** Two keys against each other, or one against time, in five classes: the darker, the more. */
export function HeatPicture({
  columns,
  rows,
  zone,
  onPick,
  options,
  room,
  marked,
}: PictureProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const measured = useWidth(place);
  const [tip, setTip] = useState<TipAt | null>(null);
  const width = room?.width ?? measured;
  const heat = heatOf(columns, rows);
  const { time } = shapeOf(columns);
  const { downAt, acrossAt } = heat;
  const column = columns[downAt];
  const label = (name: string): string => (time === null ? name : showTime(name, zone, 'minute'));
  const longest = Math.max(
    3,
    ...heat.down.map((name) => Math.min(name.length, room === undefined ? 24 : 14)),
  );
  const left = longest * 8 + 14;
  const cell = Math.max(
    8,
    Math.min(room === undefined ? 64 : 110, (width - left - 8) / Math.max(1, heat.across.length)),
  );
  const upright = cell >= 44;
  const top = upright ? UPRIGHT : SLANTED;
  const every = Math.max(1, Math.ceil(17 / cell), time === null ? 1 : Math.ceil(34 / cell));
  const bound = classBounds(heat.most);
  const classOf = (value: number): number => bound.filter((from) => value >= from).length - 1;
  const row =
    room === undefined
      ? ROW
      : Math.max(14, Math.min(30, (room.height - top - 22) / Math.max(1, heat.down.length)));
  return (
    <div ref={place} className={room === undefined ? 'inset time-picture' : 'time-picture'}>
      <svg
        width={Math.max(160, left + cell * heat.across.length + (upright ? 4 : 60))}
        height={top + heat.down.length * row + 4}
        role="group"
        aria-label={`${columns[downAt]?.name ?? ''} by ${columns[acrossAt]?.name ?? ''}`}
        onKeyDown={walkMarks}
      >
        {heat.across.map((name, i) => {
          if (upright) {
            const [one, two] = twoLines(label(name), Math.floor(cell / SIGN));
            const carried = isMarked(marked, columns[acrossAt], name);
            return (
              <g key={name}>
                {carried && (
                  <rect
                    x={left + i * cell}
                    y="0"
                    width={cell - 1}
                    height={top - 2}
                    fill="var(--amber-wash)"
                  />
                )}
                <text fontSize="12" fill="var(--ink-soft)" textAnchor="middle">
                  <tspan x={left + (i + 0.5) * cell} y="11">
                    {one}
                  </tspan>
                  <tspan x={left + (i + 0.5) * cell} y="24">
                    {two}
                  </tspan>
                  <title>{name}</title>
                </text>
              </g>
            );
          }
          return i % every === 0 ? (
            <text
              key={name}
              transform={`translate(${left + (i + 0.6) * cell} ${top - 5}) rotate(-48)`}
              fontSize="12"
              fill="var(--ink-soft)"
            >
              {shortened(label(name), 16)}
            </text>
          ) : null;
        })}
        {heat.down.map((down, y) => (
          <g key={down}>
            {isMarked(marked, column, down) && (
              <rect x="0" y={top + y * row} width={left - 4} height={row - 1} fill="var(--amber-wash)" />
            )}
            <text
              x={left - 8}
              y={top + y * row + row / 2 + 4}
              textAnchor="end"
              fontSize="12"
              className="mono"
              fill="var(--ink)"
            >
              {shortened(down, room === undefined ? 24 : 14)}
              <title>{down}</title>
            </text>
            {heat.across.map((across, x) => {
              const value = heat.cells.get(heatKey(down, across)) ?? 0;
              const words = `${down}, ${label(across)}: ${inUnit(value, options?.unit)}`;
              const show = (): void =>
                setTip({ x: Math.min(width - 180, left + (x + 1) * cell), y: top + (y + 1) * row, words });
              const step = classOf(value);
              return (
                <g
                  key={across}
                  data-mark=""
                  className="mark"
                  role="button"
                  tabIndex={x === 0 && y === 0 ? 0 : -1}
                  aria-label={words}
                  onMouseEnter={show}
                  onMouseLeave={() => setTip(null)}
                  onFocus={show}
                  onBlur={() => setTip(null)}
                  {...onPress((at) => {
                    const found = rows.find(
                      (one) => nameOf(one[downAt]) === down && nameOf(one[acrossAt]) === across,
                    );
                    if (found !== undefined && column !== undefined)
                      onPick(pickedOf(columns, column, found), at);
                  })}
                >
                  <rect
                    x={left + x * cell}
                    y={top + y * row}
                    width={cell - 1}
                    height={row - 1}
                    fill={HEAT[step]}
                  />
                  {cell >= 34 && value > 0 && room === undefined && (
                    <text
                      x={left + (x + 0.5) * cell}
                      y={top + y * row + row / 2 + 4}
                      fontSize="12"
                      textAnchor="middle"
                      fill={step >= 3 ? '#fffaec' : 'var(--ink)'}
                    >
                      {inUnit(value, options?.unit)}
                    </text>
                  )}
                </g>
              );
            })}
          </g>
        ))}
      </svg>
      <Tip tip={tip} />
      <p className="legend mb-0">
        {bound.map((from, i) => (
          <span
            key={from}
            className="legend-entry xs"
            data-legend={inUnit(from, options?.unit)}
            data-colour={HEAT[i]}
          >
            <i style={{ background: HEAT[i] }} /> {inUnit(from, options?.unit)}
            {i === bound.length - 1 ? ' and more' : ''}
          </span>
        ))}
      </p>
    </div>
  );
}

/** Where the five classes begin: nothing, and four steps of equal, round width. */
export function classBounds(most: number): number[] {
  const rough = most / 4.4;
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 0.25)));
  const step = Math.max(
    most < 5 ? 1 : 0,
    [1, 2, 2.5, 5, 10].map((times) => times * power).find((one) => one >= rough) ?? rough,
  );
  return [0, Math.min(1, step), step, 2 * step, 3 * step].map((from, i) => (step <= 1 ? i * step : from));
}

/** A name over two lines, cut where words meet. */
function twoLines(name: string, most: number): [string, string] {
  if (name.length <= most) return ['', name];
  const at = name.search(/[-._ /]/);
  return at > 0 && at <= most
    ? [shortened(name.slice(0, at), most), shortened(name.slice(at + 1), most)]
    : ['', shortened(name, most)];
}
