import { type JSX, useMemo, useRef } from 'react';
import { markMinutes, type SubjectBoard } from '../../../core/boards/subjects/subject-board.js';
import type { Dossier } from '../../../core/wire/dossiers.js';
import type { CardAnswer } from '../../boards/use-board-answers.js';
import { count, showTime } from '../../ui/format.js';
import { Fan, LEVELS, Outcome } from '../../ui/Glyphs.js';
import { timeTicks } from '../../ui/time-ticks.js';
import { type Brush, BrushEdges, BrushLight, useBrush } from '../../ui/use-brush.js';
import { useWidth } from '../../ui/use-width.js';
import {
  gatherAlerts,
  type LaneMark,
  laneMarks,
  laneRemark,
  laneTotal,
  placeOfRemark,
  markHeight,
  usualBands,
} from './lane-marks.js';

const LANE = 22;
const NAMES = 84;
/** Room for "now" and "usual" at the right edge. */
const FIGURES = 138;
const AXIS = 18;
/** Alerts nearer than this share one fan, pixels. */
const NEAR = 36;
/** Text is about so wide, pixels a character. */
const LETTER = 6.4;
const MONO_LETTER = 7.4;

const arch = (x: number, y: number, height: number, above: boolean): string => {
  const straight = Math.max(0, height - 3.5);
  return above
    ? `M${x - 3.5} ${y}v${-straight}a3.5 3.5 0 0 1 7 0v${straight}z`
    : `M${x - 3} ${y}v${straight}a3 3 0 0 0 6 0v${-straight}z`;
};

interface LanesProps {
  readonly of: SubjectBoard;
  readonly answer: CardAnswer | undefined;
  readonly window: { readonly from: string; readonly to: string };
  readonly zone: string;
  readonly usual: Dossier['usual'];
  readonly alerts: Dossier['alerts'];
  readonly brush: Brush | null;
  readonly onBrush: (brush: Brush | null) => void;
  /** Whether all blocks are narrowed to what is brushed. */
  readonly narrowed: boolean;
  readonly onNarrow: (narrowed: boolean) => void;
  readonly onMoveBeam: () => void;
}

/** What happened, one lane a sort of thing: above the line what got through, below it what did not. */
export function Lanes(props: LanesProps): JSX.Element {
  const { of, answer, window, zone, usual, brush, onBrush, narrowed } = props;
  const place = useRef<HTMLDivElement>(null);
  const width = useWidth(place);
  const [from, to] = [Date.parse(window.from), Date.parse(window.to)];
  const minutes = markMinutes({ from: from * 1000, to: to * 1000 });
  const step = minutes * 60_000;
  const plot = Math.max(40, width - NAMES - FIGURES);
  const x = (time: number): number => NAMES + ((time - from) / (to - from)) * plot;
  const middle = (time: number): number => Math.min(NAMES + plot, Math.max(NAMES, x(time + step / 2)));
  const marks = useMemo(() => laneMarks(answer?.columns ?? [], answer?.rows ?? []), [answer]);
  const usualOf = new Map(usual.map((one) => [one.lane, one.usual]));
  const handlers = useBrush({ from, to, step, left: NAMES, plot, brush, onBrush });
  const all = [...marks.values()].flat();
  const sum = (some: readonly LaneMark[]): number => some.reduce((total, { events }) => total + events, 0);
  const through = sum(all.filter((mark) => mark.through));
  const inBrush = brush === null ? 0 : sum(all.filter(({ time }) => time >= brush.from && time < brush.to));
  const shown = props.alerts.filter(({ lastEvent }) => {
    const time = Date.parse(lastEvent);
    return time >= from && time < to;
  });
  const fans = gatherAlerts(shown, (NEAR / plot) * (to - from));
  const height = LANE * (of.lanes.length + 1);
  const alertsLine = height - 5;
  const y = (i: number): number => i * LANE + LANE / 2 + 1;
  const bands = (hours: readonly number[]): (readonly [number, number])[] =>
    usualBands(hours, { from, to }, zone);
  const ticks = timeTicks(from, to, zone, Math.max(2, Math.floor(plot / 110)));
  return (
    <section className="lanes" aria-label="What happened">
      <div className="lanes-head">
        <h2 className="section-head">What happened</h2>
        <span className="xs soft lanes-key">
          <Outcome outcome="success" text="" /> got through {count(through)}, above the line
        </span>
        <span className="xs soft lanes-key">
          <Outcome outcome="failure" text="" /> did not {count(sum(all) - through)}, below
        </span>
        {usual.some(({ hours }) => hours.length > 0) && (
          <span className="xs soft lanes-key">
            <i className="usual-band" aria-hidden /> usual hours
          </span>
        )}
        <span className="grow" />
        <span className="xs soft lanes-figure">now</span>
        <span className="xs soft lanes-figure">usual</span>
      </div>
      {answer?.problem != null && (
        <p className="card-mistake" role="alert">
          {answer.problem.detail}
        </p>
      )}
      <div ref={place} className="lanes-plot">
        <svg
          width={width}
          height={height + AXIS}
          role="img"
          tabIndex={0}
          aria-label={`${count(sum(all))} events by lane: ${of.lanes
            .map((lane) => `${lane.name} ${count(laneTotal(lane, marks.get(lane.name) ?? []))}`)
            .join(', ')}; ${shown.length} alerts. Arrow keys move a stretch, Shift and arrows widen it.`}
          {...handlers}
        >
          <BrushLight brush={brush} x={x} height={height} />
          {of.lanes.map((lane, i) => {
            const own = marks.get(lane.name) ?? [];
            const remark = laneRemark(lane, own, usualOf.get(lane.name) ?? 0);
            const place =
              remark &&
              placeOfRemark(
                own.filter((mark) => mark.through).map(({ time }) => middle(time)),
                {
                  after: middle(remark.after),
                  before: middle(remark.before),
                  width: remark.text.length * (remark.names ? MONO_LETTER : LETTER),
                },
                [NAMES, NAMES + plot],
              );
            return (
              <g key={lane.name}>
                <text x="0" y={y(i) + 4} className="lane-name">
                  {/* Where no room is between the marks, it is told by the name of the lane. */}
                  {remark !== null && place === null && <title>{remark.text}</title>}
                  {lane.name}
                  {lane.height === 'records' && (
                    <tspan className="lane-unit" dx="6">
                      records
                    </tspan>
                  )}
                </text>
                {bands(usual.find((one) => one.lane === lane.name)?.hours ?? []).map(([begin, end]) => (
                  <rect
                    key={begin}
                    x={x(begin)}
                    y={y(i) - 2}
                    width={Math.max(0, x(end) - x(begin))}
                    height="5"
                    fill="var(--c5)"
                    opacity="0.55"
                  />
                ))}
                <path d={`M${NAMES} ${y(i) + 0.5}H${NAMES + plot}`} stroke="var(--paper-rule)" />
                {own.map((mark) => (
                  <path
                    key={`${mark.time} ${mark.through}`}
                    d={arch(
                      middle(mark.time),
                      y(i) + (mark.through ? 0 : 1),
                      markHeight(lane, mark),
                      mark.through,
                    )}
                    {...(mark.through
                      ? { fill: 'var(--c1)' }
                      : { fill: 'var(--paper)', stroke: 'var(--ink)', strokeWidth: 1.1 })}
                  >
                    <title>
                      {`${lane.name}, ${showTime(new Date(mark.time).toISOString(), zone, 'minute')}: ${count(mark.events)} ${mark.through ? 'got through' : 'did not'}${mark.records > 0 ? `, ${count(mark.records)} records` : ''}`}
                    </title>
                  </path>
                ))}
                {remark !== null && place !== null && (
                  <text className={remark.names ? 'lane-remark mono' : 'lane-remark'} y={y(i) - 3} {...place}>
                    {remark.text}
                  </text>
                )}
                <text x={width - 68} y={y(i) + 4} textAnchor="end" className="lane-now">
                  {count(laneTotal(lane, own))}
                </text>
                <text x={width} y={y(i) + 4} textAnchor="end" className="lane-usual">
                  {usual.length === 0 ? '–' : count(usualOf.get(lane.name) ?? 0)}
                </text>
              </g>
            );
          })}
          <text x="0" y={y(of.lanes.length) + 4} className="lane-name">
            alerts
          </text>
          <path d={`M${NAMES} ${alertsLine + 0.5}H${NAMES + plot}`} stroke="var(--paper-rule)" />
          {fans.map(({ time, alerts }) => {
            const gravest = Math.max(...alerts.map(({ level }) => LEVELS.indexOf(level))) + 1;
            return (
              <g
                key={time}
                transform={`translate(${Math.min(NAMES + plot - 40, Math.max(NAMES, x(time) - 12))} ${alertsLine - 16})`}
              >
                <title>{alerts.map(({ title }) => title).join(', ')}</title>
                <Fan count={gravest} reversed={false} size={24} />
                {alerts.length > 1 && (
                  <text x="28" y="13" className="lane-remark">
                    {alerts.length}
                  </text>
                )}
              </g>
            );
          })}
          <text x={width - 68} y={y(of.lanes.length) + 4} textAnchor="end" className="lane-now">
            {count(shown.length)}
          </text>
          {ticks.map(({ time, label }) => (
            <g key={time}>
              <path d={`M${Math.round(x(time)) + 0.5} ${alertsLine}v4`} stroke="var(--paper-rule)" />
              <text
                x={Math.min(NAMES + plot - 18, Math.max(NAMES + 18, x(time)))}
                y={height + 12}
                textAnchor="middle"
                className="lane-tick"
              >
                {label}
              </text>
            </g>
          ))}
          <BrushEdges brush={brush} x={x} height={alertsLine} />
        </svg>
      </div>
      <p className="sm lanes-said">
        {brush === null ? (
          <span className="soft">Drag over the lanes to brush a stretch of time.</span>
        ) : (
          <>
            Brushed {showTime(new Date(brush.from).toISOString(), zone, 'minute')} –{' '}
            {showTime(new Date(brush.to).toISOString(), zone, 'minute').slice(-5)}: {count(inBrush)} of{' '}
            {count(sum(all))} events{' '}
            <button type="button" className="link" onClick={() => props.onNarrow(!narrowed)}>
              {narrowed ? 'Keep all again' : 'Keep only these'}
            </button>{' '}
            <button type="button" className="link" onClick={props.onMoveBeam}>
              Move the Beam here
            </button>{' '}
            <button type="button" className="link" onClick={() => onBrush(null)}>
              Clear
            </button>
          </>
        )}
        <span className="grow" />
        <span className="xs faint">
          {minutes < 60
            ? `${minutes} minutes`
            : minutes < 1440
              ? `${minutes / 60} hours`
              : `${minutes / 1440} days`}{' '}
          a mark; heights are logarithmic; usual is the same hours in 30 days
        </span>
      </p>
    </section>
  );
}
