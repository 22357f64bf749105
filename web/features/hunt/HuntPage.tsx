import { DateTime } from 'luxon';
import { type JSX, lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { CARRIED } from '../../../core/wick/compile.js';
import { eventsBehind, textUpTo, withoutOver } from '../../../core/wick/edit-steps.js';
import { addStep, columnStep, renameStep, stepFor, tallyStep } from '../../../core/wick/write-step.js';
import type { Problem } from '../../../core/wire/common.js';
import type { Question } from '../../../core/wire/paths.js';
import type { AlsoEvent, RowEvent } from '../../api/hunt-stream.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam, writeBeam } from '../../beam/beam.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { CurlLink } from '../../kit/Curl.js';
import { type NewRuleState, ruleOfHunt } from '../../make-rule/rule-text.js';
import type { Brush } from '../../ui/Timeline.js';
import { useKeys } from '../../ui/use-keys.js';
import { BenchMenus, type Opened } from './BenchMenus.js';
import { FollowLine } from './FollowLine.js';
import { addressOfQuestion, type HuntAddress, readHuntAddress, writeHuntAddress } from './hunt-address.js';
import { HuntTimeline, useTimeline } from '../../results/HuntTimeline.js';
import type { StepCount } from './ladder-gutters.js';
import type { PickedValue } from '../../results/menus/CellMenu.js';
import { usePath } from './path/use-path.js';
import { Result } from './Result.js';
import { Spine } from './Spine.js';
import { StepsSheet } from './StepsSheet.js';
import { barsOf, totalOf } from '../../results/timeline-parts.js';
import { useFollow } from './use-follow.js';
import { useHeld } from './use-held.js';
import { useHuntOptions } from './use-hunt-options.js';
import { type HuntRun, MAX_SCREEN_ROWS, SCREEN_ROWS, useHuntRun } from '../../results/use-hunt-run.js';
import { withLive } from './with-live.js';

/** What is not there at first is fetched when it is looked at. */
const Guide = lazy(async () => ({ default: (await import('./guide/Guide.js')).Guide }));
const PathPanel = lazy(async () => ({ default: (await import('./path/PathPanel.js')).PathPanel }));
const ReadingPanel = lazy(async () => ({ default: (await import('./ReadingPanel.js')).ReadingPanel }));
const SnapshotsPanel = lazy(async () => ({
  default: (await import('./snapshots/SnapshotsPanel.js')).SnapshotsPanel,
}));

const NO_EVENTS: readonly RowEvent[] = [];

/** Each step's count beside the count of the step before it; what the Beam carries counts with "from". */
function toCounts(steps: HuntRun['steps']): StepCount[] {
  const own = steps.reduce<HuntRun['steps'][number][]>((found, step) => {
    const before = found.at(-1);
    if (step.keyword !== CARRIED || before === undefined) return [...found, step];
    const share = step.share === null || before.share === null ? null : step.share + before.share;
    return [...found.slice(0, -1), { ...before, rows: step.rows, share }];
  }, []);
  return own.flatMap(({ line, rows, share }, i) =>
    rows === null ? [] : [{ line, rows, share, before: own[i - 1]?.rows ?? null }],
  );
}

/** The text with the offending word replaced by the one that was suggested; null where none was. */
function corrected(text: string, { place }: Problem): string | null {
  if (place?.suggestion === undefined) return null;
  const lines = text.split('\n');
  const line = lines[place.line - 1];
  if (line === undefined) return null;
  lines[place.line - 1] = line.slice(0, place.column - 1) + place.suggestion + line.slice(place.end - 1);
  return lines.join('\n');
}

/** All events that the row opens which opens this one; none where it opens no other. */
function alsoOpened(events: readonly RowEvent[], id: string): readonly AlsoEvent[] {
  const row = events.find((event) => event?.id === id || event?.also?.some((one) => one.id === id) === true);
  if (row?.also === undefined) return [];
  return [{ name: row.name ?? 'event', id: row.id, time: row.time }, ...row.also];
}

/** When the event of a row, or one that it opens besides, happened; null where no row is known to open it. */
function timeOf(events: readonly RowEvent[], id: string): string | null {
  for (const event of events) {
    if (event?.id === id) return event.time;
    const also = event?.also?.find((one) => one.id === id);
    if (also !== undefined) return also.time;
  }
  return null;
}

/** The bench where steps are written and results read. */
export function HuntPage(): JSX.Element {
  const { at: askedAt, again } = useAsked();
  const { beam, change } = useBeam(askedAt);
  const navigate = useNavigate();
  const person = usePerson();
  const [pinning, setPinning] = useState(false);
  const [parameters, setParameters] = useSearchParams();
  const address = useMemo(() => readHuntAddress(parameters), [parameters]);
  const { text: whole, blanks, peek, readId, view, columns, split, before, at, guide } = address;
  const go = useCallback(
    (next: Partial<HuntAddress>, replace = false) =>
      setParameters((known) => writeHuntAddress(known, next), { replace }),
    [setParameters],
  );
  const asked = peek === null ? whole : textUpTo(whole, peek);
  const [text, setText] = useState(whole);
  /** More rows, or shares of time, are wanted of this hunt alone. */
  const [wanted, setWanted] = useState({ of: '', rows: SCREEN_ROWS, shares: false });
  const more = wanted.of === asked ? wanted : { rows: SCREEN_ROWS, shares: false };
  const { held, cost, release } = useHeld(asked, beam.window, blanks, beam.carried);
  const {
    run: ran,
    start,
    stop,
  } = useHuntRun(asked, beam.window, blanks, beam.carried, more.rows, more.shares, held);
  const { followed, pause, point } = useFollow(asked, blanks, beam.carried, beam.live);
  const run = useMemo(() => (beam.live ? withLive(ran, followed) : ran), [beam.live, ran, followed]);
  const [brushed, setBrushed] = useState<{ over: string; brush: Brush } | null>(null);
  const [opened, setOpened] = useState<Opened | null>(null);
  const help = useHuntOptions(beam);
  const options = useMemo(() => ({ ...help.options, carried: beam.carried }), [help.options, beam.carried]);
  const search = beamSearch(parameters);
  const question = useMemo(
    (): Question => ({
      text: asked,
      window: beam.window,
      parameters: blanks,
      carried: [...beam.carried],
      ...(beam.last !== null && { last: beam.last }),
    }),
    [asked, beam.window, beam.last, beam.carried, blanks],
  );
  const { last: _, ...now } = question;
  const lit = { text: asked, blanks, window: beam.window, carried: beam.carried };
  const timeline = useTimeline(lit, split ?? 'outcome', !held);
  const bars = useMemo(() => {
    if (timeline.isPlaceholderData) return null;
    return timeline.data === undefined
      ? timeline.isError
        ? []
        : null
      : barsOf(timeline.data.bars)
          .slice(-60)
          .map((bar) => totalOf([bar]));
  }, [timeline.data, timeline.isError, timeline.isPlaceholderData]);
  usePath({
    question,
    run: ran,
    bars,
    resting: peek !== null || beam.live || ran.text !== asked,
    at,
    onReach: useCallback(
      (reached: number, noted: Question) => {
        // The address of this very moment: another hunt may have been opened since the page was last drawn.
        const known = new URLSearchParams(window.location.search);
        if (readHuntAddress(known).text !== noted.text) return;
        setParameters(writeHuntAddress(known, { at: reached }), { replace: true });
      },
      [setParameters],
    ),
  });

  // A brush belongs to the hunt and window it was drawn over, and goes with them.
  const over = `${beam.window.from} ${beam.window.to} ${asked}`;
  const brush = brushed?.over === over ? brushed.brush : null;
  const setBrush = useCallback(
    (next: Brush | null) => setBrushed(next === null ? null : { over, brush: next }),
    [over],
  );

  // Going back in the browser brings the text of that moment back, too.
  const lastAsked = useRef(whole);
  useEffect(() => {
    if (lastAsked.current !== whole) setText(whole);
    lastAsked.current = whole;
  }, [whole]);

  const ask = useCallback(
    (next: string, filled?: Readonly<Record<string, string>>, begins = false) => {
      again();
      release();
      setText(next);
      const unchanged = next === whole && filled === undefined && peek === null;
      go({
        text: next,
        peek: null,
        ...(filled && { blanks: filled }),
        ...(begins && { at: null, view: null, columns: null }),
      });
      // The same text over the same window is asked again all the same.
      if (unchanged && beam.last === null) start();
    },
    [again, release, go, whole, peek, start, beam.last],
  );
  /** Writes a step where what was clicked stands: in a peek that is before the steps after it. */
  const writeStep = useCallback(
    (step: string) => {
      const isPeek = peek !== null && text.startsWith(asked);
      ask(isPeek ? addStep(asked, step, options) + text.slice(asked.length) : addStep(text, step, options));
    },
    [text, asked, peek, options, ask],
  );
  const write = useCallback(
    (action: Parameters<typeof stepFor>[0], picked: PickedValue) => {
      const step = stepFor(action, {
        column: picked.column.name,
        type: picked.column.type,
        value: picked.value,
      });
      if (step !== null) writeStep(step);
    },
    [writeStep],
  );
  const peekAt = useCallback((line: number | null) => go({ text, peek: line, readId: null }), [go, text]);
  const shiftBeam = (from: number, to: number): void =>
    change({ from: new Date(from).toISOString(), to: new Date(to).toISOString() });
  /** Moves the Beam to the brush; a window that the hunt has of its own gives way. */
  const narrow = (): void => {
    if (brush === null) return;
    const next = withoutOver(whole);
    setText(next);
    setParameters((known) =>
      writeHuntAddress(
        writeBeam(known, { from: new Date(brush.from).toISOString(), to: new Date(brush.to).toISOString() }),
        { text: next },
      ),
    );
  };
  const [begins, ends] = [Date.parse(beam.window.from), Date.parse(beam.window.to)];
  useKeys({
    p: () => beam.live && pause(!followed.paused),
    '[': () => shiftBeam(2 * begins - ends, begins),
    ']': () => shiftBeam(ends, 2 * ends - begins),
    '-': () => shiftBeam(begins - (ends - begins) / 2, ends + (ends - begins) / 2),
    '+': narrow,
    Escape: () => {
      if (readId !== null) go({ readId: null });
      else if (peek !== null) peekAt(null);
      else setBrush(null);
    },
  });

  const counts = useMemo(() => toCounts(run.steps), [run.steps]);
  const stale = text.trim() !== whole.trim();
  const untimed = run.status === 'done' && !stale && run.steps.some(({ share }) => share === null);
  const events = run.events;
  const readNext = (way: 1 | -1): void => {
    const ids = events.flatMap((event) => (event === null ? [] : [event.id]));
    const next = ids[ids.indexOf(readId ?? '') + way];
    if (next !== undefined) go({ readId: next }, true);
  };

  return (
    <main
      className="bench"
      aria-busy={run.status === 'running' || timeline.isFetching}
      style={{ gridTemplateColumns: readId === null ? '404px minmax(0, 1fr)' : '62px 440px minmax(0, 1fr)' }}
    >
      {readId !== null ? (
        <Spine steps={run.steps} onOpen={() => go({ readId: null })} />
      ) : (
        <StepsSheet
          text={text}
          blanks={blanks}
          run={run}
          notes={beam.live ? followed.notes : []}
          counts={stale ? [] : counts}
          help={help}
          stale={stale}
          onChange={setText}
          onRun={ask}
          onOpen={(chosen) => ask(chosen, {}, true)}
          onPeek={peekAt}
          onStop={stop}
          onPutRight={(problem) => {
            const next = corrected(whole, problem);
            if (next !== null) ask(next);
          }}
          onPin={person.role === 'reader' ? undefined : () => setPinning(true)}
          onMakeRule={
            person.role === 'reader'
              ? undefined
              : () =>
                  void navigate(`/rules/new${search}`, {
                    state: { ruleText: ruleOfHunt(text) } satisfies NewRuleState,
                  })
          }
          onTime={untimed ? () => setWanted({ of: asked, rows: more.rows, shares: true }) : undefined}
          onGuide={() => go({ guide: 1 })}
          guide={
            guide !== null && (
              <Suspense fallback={null}>
                <Guide
                  step={guide}
                  now={{
                    text: asked,
                    hours: DateTime.fromISO(beam.window.to)
                      .diff(DateTime.fromISO(beam.window.from))
                      .as('hours'),
                    split,
                    reading: readId !== null,
                    peeking: peek !== null,
                    view,
                    rows: run.rows.length,
                  }}
                  onStep={(next) => go({ guide: next }, true)}
                />
              </Suspense>
            )
          }
          path={
            <Suspense fallback={null}>
              <PathPanel
                at={at}
                zone={beam.zone}
                onGo={(chosen) => {
                  again();
                  setParameters((known) =>
                    writeHuntAddress(addressOfQuestion(known, chosen.question), { at: chosen.id }),
                  );
                }}
              />
            </Suspense>
          }
          snapshots={
            <Suspense fallback={null}>
              <SnapshotsPanel question={question} zone={beam.zone} search={search} />
            </Suspense>
          }
        />
      )}
      <Result
        run={run}
        reading={readId}
        zone={beam.zone}
        brush={brush}
        stale={stale}
        question={now}
        onMore={
          more.rows < MAX_SCREEN_ROWS
            ? () => setWanted({ of: asked, rows: MAX_SCREEN_ROWS, shares: false })
            : undefined
        }
        chosen={columns}
        onChoose={(names) => go({ columns: names }, true)}
        onTally={(names) => writeStep(tallyStep(names))}
        onOver={(inside) => {
          // The rows never jump under the pointer.
          if (beam.live) point(inside);
        }}
        onPick={(picked, place) => setOpened({ open: 'cell', picked, at: place })}
        onColumn={(column, place, shown) => setOpened({ open: 'column', column, shown, at: place })}
        onRead={(event) => go({ readId: event.id })}
        onStop={stop}
        held={held ? cost : null}
        onRunAgain={() => ask(text)}
        view={view}
        onView={(next) => go({ view: next === 'table' ? null : next })}
        exportAddress={(format) =>
          `/api/v1/hunts/export?${new URLSearchParams({
            format,
            text: asked,
            from: beam.window.from,
            to: beam.window.to,
            parameters: JSON.stringify(blanks),
            carried: JSON.stringify(beam.carried),
          })}`
        }
        peek={peek === null ? null : { line: peek, onWhole: () => peekAt(null) }}
        follow={beam.live ? <FollowLine followed={followed} onPause={pause} /> : null}
        live={beam.live && !followed.paused ? followed.events : NO_EVENTS}
        timeline={
          <HuntTimeline
            {...lit}
            held={held}
            zone={beam.zone}
            brush={brush}
            onBrush={setBrush}
            split={split}
            onSplit={(next) => go({ split: next })}
            before={before}
            onBefore={(next) => go({ before: next })}
            onPick={(picked, place) => setOpened({ open: 'cell', picked, at: place })}
          />
        }
        onNarrow={narrow}
        onClearBrush={() => setBrush(null)}
        curl={<CurlLink path="/hunts/run" body={{ ...now, limit: more.rows }} />}
      />
      {readId !== null && (
        <Suspense fallback={<section className="sheet" aria-label="Reading" />}>
          <ReadingPanel
            id={readId}
            zone={beam.zone}
            search={search}
            onStep={write}
            onPick={(picked, place) => setOpened({ open: 'cell', picked, at: place })}
            onClose={() => go({ readId: null })}
            also={alsoOpened(run.events, readId)}
            time={timeOf(run.events, readId)}
            onRead={(id) => go({ readId: id })}
            onNext={readNext}
          />
        </Suspense>
      )}
      <BenchMenus
        opened={opened}
        onOpen={setOpened}
        question={now}
        zone={beam.zone}
        search={search}
        mayChange={person.role !== 'reader'}
        onStep={write}
        onColumnStep={(action, column) => writeStep(columnStep(action, column.name))}
        onRename={(column, name, shown) => ask(`${text.trimEnd()}\n${renameStep(shown, column.name, name)}`)}
        onSplit={(field) => go({ split: field === 'outcome' ? null : field })}
        onCarry={(condition) =>
          setParameters((known) => writeBeam(known, { carried: [...new Set([...beam.carried, condition])] }))
        }
        behind={(picked) => (picked.row === undefined ? null : eventsBehind(asked, picked.row, options))}
        onAsk={ask}
      />
      {pinning && (
        <PinToCase
          pins={[
            {
              kind: 'hunt',
              ref: `/hunt?${parameters.toString()}`,
              title: text.split('\n').join(' | ').slice(0, 500),
              time: null,
            },
          ]}
          suggested="A hunt worth keeping"
          search={search}
          onClose={() => setPinning(false)}
        />
      )}
    </main>
  );
}
