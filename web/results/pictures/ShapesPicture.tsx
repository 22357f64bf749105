import { useRef, type JSX } from 'react';
import type { HuntRow } from '../../api/hunt-stream.js';
import { count, showTime, shortened } from '../../ui/format.js';
import { useWidth } from '../../ui/use-width.js';
import { cellText } from '../cells.js';
import { onPress, pickedOf, type PictureProps } from './picture.js';
import { columnCalled, SHAPE_COLUMNS } from './shape.js';

const ROW = 46;
const MOST = 200;

/** Templates of texts, the rarest first: what changes in each stands out, its share is a bar. */
export function ShapesPicture({ columns, rows, zone, onPick }: PictureProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const width = Math.max(320, useWidth(place) - 32);
  const [template, events, share, , last, example] = SHAPE_COLUMNS.map((name) => columnCalled(columns, name));
  const shown = rows.slice(0, MOST);
  const textIn = (row: HuntRow, at = 0): string => {
    const column = columns[at];
    return column === undefined ? '' : cellText(row[at] ?? null, column, zone);
  };
  const characters = Math.floor((width - 12) / 8);
  const column = columns[example ?? 0];
  return (
    <div ref={place} className="inset">
      <svg width={width} height={shown.length * ROW + 4}>
        {shown.map((row, i) => {
          const text = textIn(row, template);
          const rest = Number(row[share ?? 0] ?? 0);
          const moment = row[last ?? 0];
          return (
            <g
              key={i}
              transform={`translate(0 ${i * ROW})`}
              className="mark"
              role="button"
              tabIndex={0}
              aria-label={`${text}: ${counted(row[events ?? 0])}`}
              {...onPress((at) => column !== undefined && onPick(pickedOf(columns, column, row), at))}
            >
              <title>{`${text}\n${textIn(row, example)}`}</title>
              <rect x="0" y="0" width={width} height={ROW - 1} fill="transparent" />
              <text x="0" y="16" fontSize="13" className="mono" fill="var(--ink)">
                {pieces(text, characters).map((piece, at) => (
                  <tspan key={at} {...(piece.includes('*') && { fill: 'var(--amber-ink)', fontWeight: 650 })}>
                    {piece}
                  </tspan>
                ))}
              </text>
              <rect x="0" y="24" width={width * 0.5} height="5" fill="var(--paper-well)" />
              <rect x="0" y="24" width={Math.max(1, width * 0.5 * rest)} height="5" fill="var(--c1)" />
              <text x={width * 0.5 + 10} y="31" fontSize="12" fill="var(--ink-soft)">
                {counted(row[events ?? 0])}, {(rest * 100).toFixed(rest < 0.01 ? 2 : 0)} %
                {typeof moment === 'string' ? `, last ${showTime(moment, zone, 'minute')}` : ''}
              </text>
              <path d={`M0 ${ROW - 2}H${width}`} stroke="var(--paper-edge)" />
            </g>
          );
        })}
      </svg>
    </div>
  );
}

const counted = (events: unknown): string =>
  `${count(Number(events ?? 0))} ${events === 1 ? 'event' : 'events'}`;

/** A template cut to what fits, its changing words apart from the rest. */
function pieces(template: string, most: number): string[] {
  return shortened(template, most)
    .split(/(\S*\*\S*)/)
    .filter((piece) => piece !== '');
}
