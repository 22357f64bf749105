import type { JSX } from 'react';

const WIDTH = 96;
const HEIGHT = 20;

/** Small bars without an axis: the shape of a day. */
export function SparkBars({ values, label }: { values: readonly number[]; label: string }): JSX.Element {
  const top = Math.max(1, ...values);
  const width = WIDTH / Math.max(1, values.length);
  return (
    <svg width={WIDTH} height={HEIGHT + 1} role="img" aria-label={label}>
      <path d={`M0 ${HEIGHT + 0.5}H${WIDTH}`} stroke="var(--paper-rule)" />
      {values.map((value, i) => {
        const height = value === 0 ? 0 : Math.max(1, (value / top) * HEIGHT);
        return (
          <rect
            key={i}
            x={i * width}
            y={HEIGHT - height}
            width={Math.max(1, width - 1)}
            height={height}
            fill="var(--c1)"
          />
        );
      })}
    </svg>
  );
}
