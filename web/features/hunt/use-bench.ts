import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { textUpTo, withoutOver } from '../../../core/wick/edit-steps.js';
import { addStep, stepFor } from '../../../core/wick/write-step.js';
import type { Problem } from '../../../core/wire/common.js';
import type { HuntPoint, Question } from '../../../core/wire/paths.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam, writeBeam } from '../../beam/beam.js';
import { useTimeline } from '../../results/HuntTimeline.js';
import type { PickedValue } from '../../results/menus/CellMenu.js';
import { barsOf, totalOf } from '../../results/timeline-parts.js';
import { MAX_SCREEN_ROWS, SCREEN_ROWS, useHuntRun } from '../../results/use-hunt-run.js';
import type { Brush } from '../../ui/Timeline.js';
import { useKeys } from '../../ui/use-keys.js';
import type { Opened } from './BenchMenus.js';
import { corrected, toCounts } from '../../wick/bench-words.js';
import {
  addressOfQuestion,
  type HuntAddress,
  readHuntAddress,
  writeHuntAddress,
} from '../../results/hunt-address.js';
import { usePath } from './path/use-path.js';
import { useFollow } from './use-follow.js';
import { useHeld } from './use-held.js';
import { useHuntOptions } from '../../wick/use-hunt-options.js';
import { withLive } from './with-live.js';

/** What runs on the bench, and everything that can be done there; the views of the page show it. */
export function useBench() {
  const { at: askedAt, again } = useAsked();
  const { beam, change } = useBeam(askedAt);
  const [parameters, setParameters] = useSearchParams();
  const address = useMemo(() => readHuntAddress(parameters), [parameters]);
  const { text: whole, blanks, peek, readId, split, at } = address;
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

  return {
    address,
    parameters,
    beam,
    search,
    text,
    setText,
    help,
    options,
    run,
    followed,
    pause,
    point,
    held,
    cost,
    stale,
    untimed,
    counts,
    question,
    now,
    lit,
    timelineIsBusy: timeline.isFetching,
    brush,
    setBrush,
    opened,
    setOpened,
    rows: more.rows,
    wantMore: () => setWanted({ of: asked, rows: MAX_SCREEN_ROWS, shares: false }),
    wantShares: () => setWanted({ of: asked, rows: more.rows, shares: true }),
    go,
    goBack: (point: HuntPoint) => {
      again();
      setParameters((known) => writeHuntAddress(addressOfQuestion(known, point.question), { at: point.id }));
    },
    carry: (condition: string) =>
      setParameters((known) => writeBeam(known, { carried: [...new Set([...beam.carried, condition])] })),
    ask,
    stop,
    writeStep,
    write,
    peekAt,
    narrow,
    putRight: (problem: Problem) => {
      const next = corrected(whole, problem);
      if (next !== null) ask(next);
    },
    readNext,
  };
}

export type Bench = ReturnType<typeof useBench>;
