import { useQuery } from '@tanstack/react-query';
import { useMemo, type JSX } from 'react';
import type { Timeline as TimelineWire } from '../../../core/wire/hunts.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { count } from '../../ui/format.js';
import { Outcome } from '../../ui/Glyphs.js';
import { Timeline, type Bar, type Brush, type Part } from '../../ui/Timeline.js';

/** Parts in the order they are stacked; before or success is pale, after or failure is ink blue, in every chart. */
const parts: readonly Part[] = [
  { name: 'success', colour: 'var(--out-success)', pale: true },
  { name: 'allowed', colour: 'var(--out-allowed)', pale: true },
  { name: 'unknown', colour: 'var(--c6)', pale: false },
  { name: 'blocked', colour: 'var(--out-blocked)', pale: false },
  { name: 'failure', colour: 'var(--out-failure)', pale: false },
];

interface HuntTimelineProps {
  readonly text: string;
  readonly blanks: Readonly<Record<string, string>>;
  readonly window: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly brush: Brush | null;
  readonly onBrush: (brush: Brush | null) => void;
}

/** When the events of a hunt happened, by outcome. */
export function HuntTimeline({ text, blanks, window, zone, brush, onBrush }: HuntTimelineProps): JSX.Element {
  const timeline = useQuery({
    queryKey: keys.timeline(text, blanks, window.from, window.to),
    queryFn: ({ signal }) =>
      askJson<TimelineWire>('/hunts/timeline', {
        method: 'POST',
        body: { text, window, bars: 60, parameters: blanks },
        signal,
      }),
    enabled: text.trim() !== '',
    placeholderData: (before) => before,
    staleTime: Infinity,
    retry: false,
  });
  const { data } = timeline;
  const bars = useMemo(() => {
    const found = new Map<number, Bar & { parts: Record<string, number> }>();
    for (const { time, split, count: rows } of data?.bars ?? []) {
      const start = Date.parse(time);
      const bar = found.get(start) ?? { start, parts: {} };
      const name = split ?? 'unknown';
      bar.parts[name] = (bar.parts[name] ?? 0) + rows;
      found.set(start, bar);
    }
    return [...found.values()].sort((a, b) => a.start - b.start);
  }, [data]);
  const totals = parts
    .map((part) => ({ ...part, rows: bars.reduce((sum, bar) => sum + (bar.parts[part.name] ?? 0), 0) }))
    .filter((part) => part.rows > 0);
  const shown = data?.window ?? window;
  return (
    <>
      <div className="inset legend">
        <span className="soft">Events before any table step</span>
        <span className="grow" />
        {totals.map(({ name, colour, rows }) => (
          <span key={name}>
            <svg className="glyph" width="11" height="11" aria-hidden="true">
              <rect x=".5" y=".5" width="10" height="10" fill={colour} stroke="var(--ink-faint)" />
            </svg>
            <Outcome outcome={name} /> {count(rows)}
          </span>
        ))}
      </div>
      <Timeline
        from={Date.parse(shown.from)}
        to={Date.parse(shown.to)}
        width={(data?.seconds ?? 60) * 1000}
        bars={bars}
        parts={parts}
        zone={zone}
        brush={brush}
        onBrush={onBrush}
      />
    </>
  );
}
