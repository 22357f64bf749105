import { useRef, type JSX } from 'react';
import { count, showTime } from '../../ui/format.js';
import { useWidth } from '../../ui/use-width.js';
import { HEAT, onPress, pickedOf, type PictureProps } from './picture.js';
import { heatKey, heatOf, nameOf, shapeOf } from './shape.js';

const LEFT = 190;
const ROW = 20;
/** Room for the names across, which stand at a slant. */
const TOP = 96;

/** Two keys against each other, or one against time: the darker, the more. */
export function HeatPicture({ columns, rows, zone, onPick }: PictureProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const width = useWidth(place);
  const heat = heatOf(columns, rows);
  const { time } = shapeOf(columns);
  const { downAt, acrossAt } = heat;
  const column = columns[downAt];
  const label = (name: string): string => (time === null ? name : showTime(name, zone, 'minute'));
  const cell = Math.max(8, Math.min(34, (width - LEFT - 60) / Math.max(1, heat.across.length)));
  // Names need some 14 pixels each.
  const every = Math.max(1, Math.ceil(17 / cell), time === null ? 1 : Math.ceil(34 / cell));
  return (
    <div ref={place} className="inset">
      <svg
        width={Math.max(200, LEFT + cell * heat.across.length + 60)}
        height={TOP + heat.down.length * ROW + 6}
      >
        {heat.across.map((name, i) =>
          i % every === 0 ? (
            <text
              key={name}
              transform={`translate(${LEFT + (i + 0.6) * cell} ${TOP - 5}) rotate(-48)`}
              fontSize="12"
              fill="var(--ink-soft)"
            >
              {cut(label(name), 16)}
            </text>
          ) : null,
        )}
        {heat.down.map((down, y) => (
          <g key={down}>
            <text
              x={LEFT - 8}
              y={TOP + y * ROW + 14}
              textAnchor="end"
              fontSize="12"
              className="mono"
              fill="var(--ink)"
            >
              {cut(down, 24)}
              <title>{down}</title>
            </text>
            {heat.across.map((across, x) => {
              const value = heat.cells.get(heatKey(down, across));
              if (value === undefined) return null;
              const step = Math.min(4, Math.floor((Math.log1p(value) / Math.log1p(heat.most)) * 4.999));
              const words = `${down}, ${label(across)}: ${count(value)}`;
              return (
                <rect
                  key={across}
                  x={LEFT + x * cell}
                  y={TOP + y * ROW}
                  width={cell - 1}
                  height={ROW - 1}
                  fill={HEAT[step]}
                  className="mark"
                  role="button"
                  tabIndex={0}
                  aria-label={words}
                  {...onPress((at) => {
                    const row = rows.find(
                      (one) => nameOf(one[downAt]) === down && nameOf(one[acrossAt]) === across,
                    );
                    if (row !== undefined && column !== undefined) onPick(pickedOf(columns, column, row), at);
                  })}
                >
                  <title>{words}</title>
                </rect>
              );
            })}
          </g>
        ))}
      </svg>
    </div>
  );
}

const cut = (text: string, most: number): string =>
  text.length > most ? `${text.slice(0, most - 1)}…` : text;
