import type { JSX } from 'react';

const WIDTH = 112;
const HEIGHT = 20;

/** When an alert's events happened: equal stretches from the first to the last. */
export function Spark({ counts }: { counts: readonly number[] }): JSX.Element | null {
  if (counts.length === 0) return null;
  const most = Math.max(1, ...counts);
  const width = WIDTH / counts.length;
  return (
    <svg className="spark" width={WIDTH} height={HEIGHT} aria-hidden="true">
      <path d={`M0 ${HEIGHT - 0.5}h${WIDTH}`} stroke="var(--paper-rule)" />
      {counts.map((count, i) =>
        count === 0 ? null : (
          <rect
            key={i}
            x={i * width + 0.5}
            width={Math.max(1.5, width - 1.5)}
            y={HEIGHT - 1 - Math.max(2, (count / most) * (HEIGHT - 3))}
            height={Math.max(2, (count / most) * (HEIGHT - 3))}
            fill="#23477a"
          />
        ),
      )}
    </svg>
  );
}
