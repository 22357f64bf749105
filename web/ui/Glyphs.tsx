import type { JSX } from 'react';

export const LEVELS = ['informational', 'low', 'medium', 'high', 'critical'] as const;
export type Level = (typeof LEVELS)[number];

const PIVOT = { x: 14, y: 3 };

const point = (radius: number, degrees: number): string => {
  const angle = (degrees * Math.PI) / 180;
  return `${(PIVOT.x + radius * Math.cos(angle)).toFixed(2)} ${(PIVOT.y + radius * Math.sin(angle)).toFixed(2)}`;
};

/** A ring sector between 4.4 and 13.4, 29.6 degrees wide; blades stand 33.6 degrees apart from 172 on. */
function bladePath(index: number): string {
  const from = 172 - index * 33.6;
  const to = from - 29.6;
  return `M${point(4.4, from)}L${point(13.4, from)}A13.4 13.4 0 0 0 ${point(13.4, to)}L${point(4.4, to)}A4.4 4.4 0 0 1 ${point(4.4, from)}Z`;
}

/** The fan of severity: as many blades open as the level counts, the rest are dots. */
export function Fan({
  count,
  reversed,
  size = 28,
}: {
  count: number;
  reversed: boolean;
  size?: number;
}): JSX.Element {
  const light = '#ffe9c2';
  return (
    <svg className="glyph" width={size} height={(size * 17) / 28} viewBox="0 0 28 17" aria-hidden="true">
      {LEVELS.map((level, i) => {
        if (i < count) {
          return (
            <path
              key={level}
              d={bladePath(i)}
              fill={reversed ? light : `var(--sev-${count})`}
              {...(count < 3 && { stroke: 'var(--ink-faint)', strokeWidth: 0.9 })}
            />
          );
        }
        const [x, y] = point(6.4, 172 - i * 33.6 - 14.8).split(' ');
        return <circle key={level} cx={x} cy={y} r="1" fill="var(--sev-stub)" />;
      })}
      <circle cx={PIVOT.x} cy={PIVOT.y} r="2.5" fill={reversed ? light : 'var(--ink)'} />
    </svg>
  );
}

/** Severity: fan and word. */
export function Severity({ level }: { level: Level }): JSX.Element {
  const count = LEVELS.indexOf(level) + 1;
  return (
    <span className={`severity level-${count}`}>
      <Fan count={count} reversed={count === 5} />
      {level.charAt(0).toUpperCase() + level.slice(1)}
    </span>
  );
}

const doors: Readonly<Record<string, JSX.Element>> = {
  success: <path d="M3 13V6.2a4 4 0 0 1 8 0V13z" fill="currentColor" />,
  failure: (
    <>
      <path d="M3.6 12.6V6.2a3.4 3.4 0 0 1 6.8 0v6.4z" fill="none" stroke="currentColor" strokeWidth="1.3" />
      <path d="M1 11.2 13 4.4" stroke="currentColor" strokeWidth="1.7" strokeLinecap="round" />
    </>
  ),
  allowed: (
    <>
      <path d="M7 .8v3.6M7 9.6v3.6" stroke="currentColor" strokeWidth="2.2" />
      <path d="M.6 7h9" stroke="currentColor" strokeWidth="1.5" />
      <path d="M9 4.2 13.4 7 9 9.8z" fill="currentColor" />
    </>
  ),
  blocked: (
    <>
      <path d="M9 .8v12.4" stroke="currentColor" strokeWidth="3.2" />
      <path d="M.6 7h6" stroke="currentColor" strokeWidth="1.5" />
    </>
  ),
};

/** Outcome: door and wall, with the word, or with another text and the word for those who hear it. */
export function Outcome({ outcome, text = outcome }: { outcome: string; text?: string }): JSX.Element {
  const door = doors[outcome];
  return (
    <span className={`outcome ${outcome}`}>
      {door !== undefined && (
        <svg className="glyph" width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
          {door}
        </svg>
      )}
      {text}
      {text !== outcome && <span className="visually-hidden">, {outcome}</span>}
    </span>
  );
}

const waves = {
  flowing: (
    <path
      d="M1 5c2-5 4-5 5.3 0s3.4 5 5.4 0 3.3-5 5.3 0"
      fill="none"
      stroke="var(--blue)"
      strokeWidth="1.6"
      strokeLinecap="round"
    />
  ),
  late: (
    <>
      <path
        d="M1 5c2-5 4-5 5.3 0s2.2 0 3.2 0"
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.6"
        strokeLinecap="round"
      />
      <path d="M12 5h5" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="1.6 1.8" />
    </>
  ),
  quiet: (
    <>
      <path d="M1 5h4M13 5h4" stroke="var(--sev-4)" strokeWidth="1.6" strokeLinecap="round" />
      <circle cx="9" cy="5" r="2.6" fill="none" stroke="var(--sev-4)" strokeWidth="1.5" />
    </>
  ),
  waiting: <path d="M1 5h16" stroke="var(--ink-soft)" strokeWidth="1.6" strokeDasharray="1.6 1.8" />,
} as const;

/** State of a source: wave, wave fading to dots, broken line, or dots. */
export function SourceGlyph({ state }: { state: keyof typeof waves }): JSX.Element {
  return (
    <svg className="glyph" width="18" height="10" viewBox="0 0 18 10" aria-hidden="true">
      {waves[state]}
    </svg>
  );
}

const marks = {
  bad: (
    <>
      <path d="M2 7c1.7-4 3.3-4 5 0s3.3 4 5 0" fill="none" stroke="var(--sev-4)" strokeWidth="1.8" />
      <path d="M2 11.5h10" stroke="var(--sev-4)" strokeWidth="1.3" />
    </>
  ),
  note: <path d="M3 11 7 4l4 7" fill="none" stroke="var(--ink-soft)" strokeWidth="1.7" />,
  fine: <path d="M2 7.5 5.5 11 12 3" fill="none" stroke="var(--leaf)" strokeWidth="1.7" />,
} as const;

/** A mark beside rule text: mistake, note or fine. */
export function TextMark({ mark }: { mark: keyof typeof marks }): JSX.Element {
  return (
    <svg className="glyph" width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      {marks[mark]}
    </svg>
  );
}

/** The lamp. */
export function Lamp(): JSX.Element {
  return (
    <svg width="22" height="25" viewBox="0 0 24 26" aria-hidden="true">
      <path d="M12 0v5" stroke="#cbb999" strokeWidth="1.5" />
      <path d="M7.5 13h9L22.5 26h-21z" fill="#e6a42e" opacity=".34" />
      <path d="M4 13c0-5 3.2-8.500 8-8.500s8 3.500 8 8.500z" fill="#e6a42e" />
      <path d="M9 13a3 3 0 0 0 6 0z" fill="#fff1cc" />
    </svg>
  );
}
