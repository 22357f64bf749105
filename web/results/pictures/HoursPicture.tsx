import { DateTime } from 'luxon';
import { useRef, useState, type JSX } from 'react';
import { useWidth } from '../../ui/use-width.js';
import { figure, HEAT, onPress, pickedOf, walkMarks, type PictureProps } from './picture.js';
import { nameOf, shapeOf } from './shape.js';
import { Tip, type TipAt } from './Tip.js';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const LEFT = 42;
const TOP = 18;

/** When in the week: weekday against hour of the day, by the clock of the zone that is read. */
export function HoursPicture({ columns, rows, zone, onPick, options, room }: PictureProps): JSX.Element {
  const frame = useRef<HTMLDivElement>(null);
  const measured = useWidth(frame);
  const [tip, setTip] = useState<TipAt | null>(null);
  const width = Math.max(220, room?.width ?? Math.min(760, measured));
  const cell = (width - LEFT - 4) / 24;
  const high = Math.max(12, Math.min(28, ((room?.height ?? 260) - TOP - 4) / 7));
  const { time, figure: figureAt } = shapeOf(columns);
  const sums = new Map<string, { value: number; row: (typeof rows)[number] }>();
  for (const row of rows) {
    const at = DateTime.fromISO(nameOf(row[time ?? 0]), { zone });
    const key = `${at.weekday} ${at.hour}`;
    sums.set(key, { value: (sums.get(key)?.value ?? 0) + Number(row[figureAt ?? 0] ?? 0), row });
  }
  const most = Math.max(1, ...[...sums.values()].map(({ value }) => value));
  const column = columns[time ?? 0];
  return (
    <div ref={frame} className={room === undefined ? 'inset time-picture' : 'time-picture'}>
      <svg
        width={width}
        height={TOP + 7 * high + 4}
        role="group"
        aria-label="By weekday and hour"
        onKeyDown={walkMarks}
      >
        {[0, 6, 12, 18].map((hour) => (
          <text key={hour} x={LEFT + hour * cell} y="12" fontSize="12" fill="var(--ink-soft)">
            {String(hour).padStart(2, '0')}:00
          </text>
        ))}
        {DAYS.map((day, d) => (
          <g key={day}>
            <text
              x={LEFT - 8}
              y={TOP + d * high + high / 2 + 4}
              fontSize="12"
              textAnchor="end"
              fill="var(--ink-soft)"
            >
              {day.slice(0, 3)}
            </text>
            {Array.from({ length: 24 }, (_, hour) => {
              const found = sums.get(`${d + 1} ${hour}`);
              const value = found?.value ?? 0;
              const words = `${day} ${String(hour).padStart(2, '0')}:00: ${figure(value, options?.unit)}`;
              const show = (): void =>
                setTip({ x: Math.min(width - 170, LEFT + hour * cell), y: TOP + (d + 1) * high, words });
              return (
                <rect
                  key={hour}
                  data-mark=""
                  x={LEFT + hour * cell}
                  y={TOP + d * high}
                  width={cell - 1}
                  height={high - 1}
                  fill={
                    value === 0 ? 'var(--paper-well)' : HEAT[Math.min(4, Math.floor((value / most) * 4.999))]
                  }
                  className="mark"
                  role="button"
                  tabIndex={d === 0 && hour === 0 ? 0 : -1}
                  aria-label={words}
                  onMouseEnter={show}
                  onMouseLeave={() => setTip(null)}
                  onFocus={show}
                  onBlur={() => setTip(null)}
                  {...onPress((at) => {
                    if (found !== undefined && column !== undefined)
                      onPick(pickedOf(columns, column, found.row), at);
                  })}
                />
              );
            })}
          </g>
        ))}
      </svg>
      <Tip tip={tip} />
    </div>
  );
}
