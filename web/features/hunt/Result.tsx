import { lazy, Suspense, useMemo, type JSX } from 'react';
import type { RowEvent } from '../../api/hunt-stream.js';
import { count, counted } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty, Reading } from '../../ui/State.js';
import type { Brush } from '../../ui/Timeline.js';
import type { HuntColumn, HuntCost } from '../../../core/wire/hunts.js';
import type { Question } from '../../../core/wire/paths.js';
import type { PickedValue } from '../../results/menus/CellMenu.js';
import { CoverageLine } from '../../results/CoverageLine.js';
import { firstColumns, inReadingOrder } from '../../results/cells.js';
import { ColumnsMenu } from '../../results/ColumnsMenu.js';
import { ResultGrid } from '../../results/ResultGrid.js';
import { ExportLinks, type Exports } from '../../results/ExportLinks.js';
import { PictureChooser } from '../../results/PictureChooser.js';
import type { View } from '../../results/pictures/shape.js';
import { allViews } from '../../results/pictures/views.js';
import { MAX_SCREEN_ROWS, type HuntRun } from '../../results/use-hunt-run.js';

/** Charts are heavy, and only fetched when one is looked at. */
const Pictures = lazy(async () => ({
  default: (await import('../../results/pictures/Pictures.js')).Pictures,
}));

interface ResultProps {
  /** What a hunt would read that waits for somebody to run it; null where none waits. */
  readonly held: HuntCost | null;
  readonly run: HuntRun;
  readonly reading: string | null;
  readonly zone: string;
  readonly brush: Brush | null;
  readonly stale: boolean;
  readonly timeline: JSX.Element;
  /** The step after which the rows are shown, where it is not the last. */
  readonly peek: { readonly line: number; readonly onWhole: () => void } | null;
  /** How following goes, where the hunt is followed. */
  readonly follow: JSX.Element | null;
  /** Events that came in while it was followed; the newest of them light up. */
  readonly live: readonly RowEvent[];
  readonly curl: JSX.Element;
  /** How the result is to be looked at; null for the table. */
  readonly view: string | null;
  readonly onView: (view: View) => void;
  /** Where the whole result can be had as a file. */
  readonly exports: Exports;
  readonly onOver: (over: boolean) => void;
  readonly onColumn: (column: HuntColumn, at: { x: number; y: number }, shown: readonly string[]) => void;
  /** The columns that are shown; null for the usual ones. */
  readonly chosen: readonly string[] | null;
  readonly onChoose: (names: readonly string[]) => void;
  /** Counts rows per some columns. */
  readonly onTally: (names: readonly string[]) => void;
  /** Asks for as many rows as a screen takes; absent where that many were asked for. */
  readonly onMore?: (() => void) | undefined;
  /** What pictures need besides the rows. */
  readonly question: Omit<Question, 'last'>;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
  readonly onRead: (event: NonNullable<RowEvent>) => void;
  readonly onStop: () => void;
  readonly onRunAgain: () => void;
  readonly onNarrow: () => void;
  readonly onClearBrush: () => void;
}

/** What a hunt found: how much, when, and the rows. */
export function Result({
  run,
  reading,
  zone,
  brush,
  stale,
  timeline,
  peek,
  follow,
  live,
  curl,
  view: asked,
  onView,
  exports,
  onOver,
  onColumn,
  chosen,
  onChoose,
  onTally,
  onMore,
  question,
  onPick,
  onRead,
  onStop,
  held,
  onRunAgain,
  onNarrow,
  onClearBrush,
}: ResultProps): JSX.Element {
  const names = run.columns.map((column) => column.name).join('\n');
  const filled = run.rows.length > 0;
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const usual = useMemo(() => firstColumns(run.columns, run.rows), [names, filled]);
  // Columns chosen for another result say nothing of this one.
  const known = chosen?.filter((name) => run.columns.some((column) => column.name === name)) ?? [];
  const shown = chosen !== null && (known.length > 0 || chosen.length === 0) ? new Set(known) : usual;
  const inside =
    brush === null
      ? null
      : (event: RowEvent) =>
          event !== null && Date.parse(event.time) >= brush.from && Date.parse(event.time) < brush.to;
  const insideCount = inside === null ? 0 : run.events.filter(inside).length;
  const read = run.steps[0]?.rows;
  const view = allViews.find((one) => one === asked) ?? 'table';
  return (
    <section className="sheet" aria-label="Result">
      <div className="sheet-head pb-1">
        <p className="grow cut" aria-live="polite">
          <span className="sheet-title">
            {held !== null
              ? 'Not run yet'
              : `${count(run.rows.length)}${run.complete ? '' : '+'} ${run.complete && run.rows.length === 1 ? 'row' : 'rows'}`}
          </span>{' '}
          <span className="soft">
            {read != null && `· ${counted(read, 'event')} read `}
            {run.status === 'done' && `· ${(run.milliseconds / 1000).toFixed(2)} s`}
            {run.status === 'running' &&
              (run.before === 0 ? '· running' : `· waits, ${run.before} go before`)}
            {run.status === 'stopped' && '· stopped'}
          </span>
        </p>
        <PictureChooser
          columns={run.columns}
          rows={run.rows}
          text={question.text}
          chosen={view}
          onChoose={onView}
        />
        <ColumnsMenu
          columns={run.columns}
          shown={shown}
          onChange={(next) => onChoose([...next])}
          onTally={run.columns.some(({ field }) => field === 'id') ? onTally : undefined}
        />
      </div>
      {peek !== null && (
        <p className="stale">
          A peek: the rows as they stood after the step on line {peek.line}.{' '}
          <button type="button" className="link" onClick={peek.onWhole}>
            Back to the whole hunt
          </button>
        </p>
      )}
      {timeline}
      {follow}
      <CoverageLine run={run} onStop={onStop} />
      <div className="brush-line">
        {brush !== null && inside !== null ? (
          <>
            <span>
              <span className="dot-inside me-1" /> Brushed: {count(insideCount)} of {count(run.rows.length)}{' '}
              rows
            </span>
            <button type="button" className="link" onClick={onNarrow}>
              Move the Beam here
            </button>
            <button type="button" className="link" onClick={onClearBrush}>
              Clear
            </button>
          </>
        ) : (
          <span className="faint xs">Drag over the bars to brush a stretch of time.</span>
        )}
      </div>
      {stale && (
        <p className="stale">
          The steps have changed since this run.{' '}
          <button type="button" className="link" onClick={onRunAgain}>
            Run again
          </button>
        </p>
      )}
      {held !== null && (
        <Empty title="This hunt came in an address">
          It would read about {counted(held.events, 'event')}. Look at its steps first.{' '}
          <button type="button" className="link" onClick={onRunAgain}>
            Run it
          </button>
        </Empty>
      )}
      {run.status === 'running' && run.rows.length === 0 && (
        <Reading
          title={
            run.before === 0
              ? 'Reading events'
              : `Waiting: ${run.before} ${run.before === 1 ? 'hunt goes' : 'hunts go'} before`
          }
          onStop={onStop}
        />
      )}
      {run.status === 'stopped' && run.rows.length === 0 && (
        <Empty title="Stopped before the first row">Run it again, or narrow the Beam first.</Empty>
      )}
      {run.status === 'failed' && run.rows.length === 0 && (
        <Empty title="No rows">The hunt could not be run; the reason stands beside its steps.</Empty>
      )}
      {run.status === 'done' && run.rows.length === 0 && <NoRows steps={run.steps} />}
      {run.rows.length > 0 && view !== 'table' && (
        <Suspense fallback={<Reading title="Drawing" />}>
          <Pictures
            view={view}
            columns={run.columns}
            rows={run.rows}
            zone={zone}
            question={question}
            onPick={onPick}
          />
        </Suspense>
      )}
      {run.rows.length > 0 && view === 'table' && (
        <ResultGrid
          columns={run.columns}
          rows={run.rows}
          events={run.events}
          shown={shown}
          zone={zone}
          readId={reading}
          inside={inside}
          live={live}
          onOver={onOver}
          onPick={onPick}
          onRead={onRead}
          onColumn={(column, at) =>
            onColumn(
              column,
              at,
              inReadingOrder(run.columns)
                .map(({ name }) => name)
                .filter((name) => shown.has(name)),
            )
          }
        />
      )}
      <div className="sheet-foot">
        {!run.complete && (
          <span>
            The first {counted(run.rows.length, 'row')} shown.{' '}
            {onMore !== undefined && (
              <button type="button" className="link" onClick={onMore}>
                Up to {count(MAX_SCREEN_ROWS)}
              </button>
            )}
          </span>
        )}
        <Key keys={['↑', '↓', '←', '→']}>move</Key>
        <Key keys={['Enter']}>read</Key>
        {reading === null && <Key keys={['Shift F10']}>cell menu</Key>}
        <span className="grow" />
        {run.rows.length > 0 && <ExportLinks exports={exports} />}
        {curl}
      </div>
    </section>
  );
}

/** Nothing is left: says which step took the last rows away. */
function NoRows({ steps }: { steps: HuntRun['steps'] }): JSX.Element {
  const emptied = steps.findIndex((step) => step.rows === 0);
  const before = steps[emptied - 1];
  if (emptied < 0 || before === undefined)
    return (
      <Empty title="No events here">
        Nothing of this kind happened in the Beam's window. Widen the window, or look at other kinds with
        "from all".
      </Empty>
    );
  return (
    <Empty title={`No rows at step ${emptied + 1}`}>
      Step {emptied} still had {count(before.rows ?? 0)}. Loosen the condition on line {steps[emptied]?.line},
      or widen the Beam.
    </Empty>
  );
}
