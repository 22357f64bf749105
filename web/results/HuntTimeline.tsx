import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo } from 'react';
import { Form } from 'react-bootstrap';
import { countTimeline } from '../../core/wire/endpoints/hunts.js';
import { answerTo } from '../api/call.js';
import { count } from '../ui/format.js';
import { Outcome } from '../ui/Glyphs.js';
import { type Brush, Timeline } from '../ui/Timeline.js';
import type { PickedValue } from './menus/CellMenu.js';
import { barsOf, OTHERS, partsOf, pickedPart, shiftedBack, SPLITS, totalOf } from './timeline-parts.js';

export interface TimelineQuestion {
  readonly text: string;
  readonly blanks: Readonly<Record<string, string>>;
  readonly window: { readonly from: string; readonly to: string };
  readonly carried: readonly string[];
}

interface HuntTimelineProps extends TimelineQuestion {
  readonly zone: string;
  readonly brush: Brush | null;
  readonly onBrush: (brush: Brush | null) => void;
  /** The field that splits the bars; null for the outcome. */
  readonly split: string | null;
  readonly onSplit: (split: string | null) => void;
  /** Whether the period before is drawn, too. */
  readonly before: boolean;
  readonly onBefore: (before: boolean) => void;
  /** Not asked until somebody runs the hunt. */
  readonly held?: boolean;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
}

/** Counts over time of what is asked, split by a field. */
export function useTimeline(asked: TimelineQuestion, split: string, enabled: boolean) {
  const { text, blanks, window, carried } = asked;
  return useQuery({
    ...answerTo(countTimeline, { body: { text, window, bars: 60, parameters: blanks, carried, split } }),
    enabled: enabled && text.trim() !== '',
    placeholderData: (known) => known,
    staleTime: Infinity,
    retry: false,
  });
}

/** When the events of a hunt happened, by outcome or any other field, beside the period before where that is wanted. */
export function HuntTimeline(props: HuntTimelineProps): JSX.Element {
  const { window, zone, brush, onBrush, onSplit, before, onBefore, onPick } = props;
  const split = props.split ?? 'outcome';
  const { held = false } = props;
  const { data, isFetching } = useTimeline(props, split, !held);
  const earlier = useTimeline({ ...props, window: shiftedBack(window) }, 'outcome', before && !held);
  const bars = useMemo(() => barsOf(data?.bars ?? []), [data]);
  // While another field is counted, the bars are still those of the one before.
  const counted = data?.split ?? split;
  const parts = useMemo(() => partsOf(counted, bars), [counted, bars]);
  const shown = data?.window ?? window;
  const behind = useMemo(() => {
    if (!before || earlier.data === undefined) return null;
    const shift = Date.parse(shown.from) - Date.parse(earlier.data.window.from);
    return barsOf(earlier.data.bars).map((bar) => ({ ...bar, start: bar.start + shift }));
  }, [before, earlier.data, shown.from]);
  const choices = props.split === null || SPLITS.includes(props.split) ? SPLITS : [...SPLITS, props.split];
  return (
    <>
      <div className="inset legend">
        <span className="soft">Events before any table step, by</span>
        <Form.Select
          size="sm"
          className="plain-select mono"
          aria-label="Split the bars by"
          value={split}
          onChange={(event) => onSplit(event.target.value === 'outcome' ? null : event.target.value)}
        >
          {choices.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Form.Select>
        <Form.Check
          id="period-before"
          label="with the period before"
          checked={before}
          onChange={(event) => onBefore(event.target.checked)}
        />
        {data === undefined && isFetching && <span className="soft">Counting…</span>}
        <span className="grow" />
        {behind !== null && (
          <span>
            <svg className="glyph" width="16" height="11" aria-hidden="true">
              <path d="M0 9H5V3H11V6H16" fill="none" stroke="var(--sev-3)" strokeWidth="1.4" />
            </svg>{' '}
            before {count(totalOf(behind))}
          </span>
        )}
        {parts.map(({ name, colour, rows }) => (
          <button
            key={name}
            type="button"
            className="legend-part"
            disabled={name === OTHERS}
            title={name === OTHERS ? 'Lighter values, put together' : `${counted}: ${name}`}
            onClick={(event) => onPick(pickedPart(counted, name), { x: event.clientX, y: event.clientY + 6 })}
          >
            <svg className="glyph" width="11" height="11" aria-hidden="true">
              <rect x=".5" y=".5" width="10" height="10" fill={colour} stroke="var(--ink-faint)" />
            </svg>
            {counted === 'outcome' ? <Outcome outcome={name} /> : <span className="mono cut">{name}</span>}{' '}
            {count(rows)}
          </button>
        ))}
      </div>
      <Timeline
        from={Date.parse(shown.from)}
        to={Date.parse(shown.to)}
        width={(data?.seconds ?? 60) * 1000}
        bars={bars}
        behind={behind}
        parts={parts}
        zone={zone}
        brush={brush}
        onBrush={onBrush}
      />
    </>
  );
}
