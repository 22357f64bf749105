import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { useCallback, useEffect, useMemo, useRef, useState, type JSX } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Problem } from '../../../core/wire/common.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import type { Source } from '../../../core/wire/sources.js';
import type { CompileOptions } from '../../../core/wick/compile.js';
import { eventsBehind, textUpTo } from '../../../core/wick/edit-steps.js';
import { addStep, stepFor, type ValueAction } from '../../../core/wick/write-step.js';
import { askJson } from '../../api/client.js';
import type { AlsoEvent, RowEvent } from '../../api/hunt-stream.js';
import { keys } from '../../api/keys.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import type { Brush } from '../../ui/Timeline.js';
import { useKeys } from '../../ui/use-keys.js';
import { CellMenu, type PickedValue } from './CellMenu.js';
import { FollowLine } from './FollowLine.js';
import { readHuntAddress, writeHuntAddress } from './hunt-address.js';
import { HuntTimeline } from './HuntTimeline.js';
import type { StepCount } from './ladder-gutters.js';
import { ReadingPanel } from './ReadingPanel.js';
import { Result } from './Result.js';
import { Spine } from './Spine.js';
import { useFollow } from './use-follow.js';
import { withLive } from './with-live.js';
import { SCREEN_ROWS, useHuntRun, type HuntRun } from './use-hunt-run.js';
import { StepsSheet } from './StepsSheet.js';

const NO_EVENTS: readonly RowEvent[] = [];
const SUBJECTS = new Set(['user', 'target_user', 'acting_as']);

/** Each step's count beside the count of the step before it. */
const toCounts = (steps: HuntRun['steps']): StepCount[] =>
  steps.flatMap(({ line, rows }, i) =>
    rows === null ? [] : [{ line, rows, before: steps[i - 1]?.rows ?? null }],
  );

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

/** The bench where steps are written and results read. */
export function HuntPage(): JSX.Element {
  const { at, again } = useAsked();
  const { beam, change } = useBeam(at);
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const {
    text: whole,
    blanks,
    peek,
    readId,
    view,
  } = useMemo(() => readHuntAddress(parameters), [parameters]);
  const asked = peek === null ? whole : textUpTo(whole, peek);
  const [text, setText] = useState(whole);
  const { run: ran, start, stop } = useHuntRun(asked, beam.window, blanks);
  const { followed, pause, point } = useFollow(asked, blanks, beam.live);
  const run = useMemo(() => (beam.live ? withLive(ran, followed) : ran), [beam.live, ran, followed]);
  const [brushed, setBrushed] = useState<{ over: string; brush: Brush } | null>(null);
  const [menu, setMenu] = useState<{ picked: PickedValue; at: { x: number; y: number } } | null>(null);
  const lists = useQuery({
    queryKey: keys.lists,
    queryFn: () => askJson<{ lists: ListSummary[] }>('/lists'),
  });
  const sources = useQuery({
    queryKey: keys.sources,
    queryFn: () => askJson<{ sources: Source[] }>('/sources'),
  });
  const search = beamSearch(parameters);
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

  const options = useMemo((): CompileOptions => {
    const micros = (iso: string): number => DateTime.fromISO(iso).toMillis() * 1000;
    const listed = lists.data?.lists ?? [];
    return {
      window: { from: micros(beam.window.from), to: micros(beam.window.to) },
      now: micros(beam.window.to),
      lists: listed,
    };
  }, [beam.window.from, beam.window.to, lists.data]);
  const help = useMemo(
    () => ({
      options,
      catalogue: {
        lists: (lists.data?.lists ?? []).map((list) => list.name),
        sources: (sources.data?.sources ?? []).map((source) => source.name),
      },
    }),
    [options, lists.data, sources.data],
  );

  const ask = useCallback(
    (next: string, filled?: Readonly<Record<string, string>>) => {
      again();
      setText(next);
      const unchanged = next === whole && filled === undefined && peek === null;
      setParameters((before) =>
        writeHuntAddress(before, { text: next, peek: null, ...(filled && { blanks: filled }) }),
      );
      // The same text over the same window is asked again all the same.
      if (unchanged && beam.last === null) start();
    },
    [again, setParameters, whole, peek, start, beam.last],
  );
  const write = useCallback(
    (action: ValueAction, picked: PickedValue) => {
      const step = stepFor(action, {
        column: picked.column.name,
        type: picked.column.type,
        value: picked.value,
      });
      if (step === null) return;
      // What is clicked in a peek is written where the peek stands, the steps after it stay.
      const isPeek = peek !== null && text.startsWith(asked);
      ask(isPeek ? addStep(asked, step, options) + text.slice(asked.length) : addStep(text, step, options));
    },
    [text, asked, peek, options, ask],
  );
  const read = useCallback(
    (id: string | null) => setParameters((before) => writeHuntAddress(before, { readId: id })),
    [setParameters],
  );
  const peekAt = useCallback(
    (line: number | null) =>
      setParameters((before) => writeHuntAddress(before, { text, peek: line, readId: null })),
    [setParameters, text],
  );
  useKeys({
    p: () => beam.live && pause(!followed.paused),
    Escape: () => {
      if (readId !== null) read(null);
      else if (peek !== null) peekAt(null);
      else setBrush(null);
    },
  });

  const counts = useMemo(() => toCounts(run.steps), [run.steps]);
  const narrow = (): void => {
    if (brush === null) return;
    change({ from: new Date(brush.from).toISOString(), to: new Date(brush.to).toISOString() });
  };
  const stale = text.trim() !== whole.trim();
  const picked = menu?.picked;
  const subject =
    picked !== undefined &&
    SUBJECTS.has(picked.column.field ?? '') &&
    typeof picked.value === 'string' &&
    picked.value !== ''
      ? picked.value
      : null;
  const behind = picked?.row === undefined ? null : eventsBehind(asked, picked.row, options);
  const putRight = (problem: Problem): void => {
    const next = corrected(whole, problem);
    if (next !== null) ask(next);
  };
  const result = (
    <Result
      run={run}
      reading={readId}
      zone={beam.zone}
      brush={brush}
      stale={stale}
      onOver={(over) => {
        // The rows never jump under the pointer.
        if (beam.live) point(over);
      }}
      onPick={(picked, place) => setMenu({ picked, at: place })}
      onRead={(event) => read(event.id)}
      onStop={stop}
      onRunAgain={() => ask(text)}
      view={view}
      onView={(next) =>
        setParameters((before) => writeHuntAddress(before, { view: next === 'table' ? null : next }))
      }
      exportAddress={(format) =>
        `/api/v1/hunts/export?${new URLSearchParams({
          format,
          text: asked,
          from: beam.window.from,
          to: beam.window.to,
          parameters: JSON.stringify(blanks),
        })}`
      }
      peek={peek === null ? null : { line: peek, onWhole: () => peekAt(null) }}
      follow={beam.live ? <FollowLine followed={followed} onPause={pause} /> : null}
      live={beam.live && !followed.paused ? followed.events : NO_EVENTS}
      timeline={
        <HuntTimeline
          text={asked}
          blanks={blanks}
          window={beam.window}
          zone={beam.zone}
          brush={brush}
          onBrush={setBrush}
        />
      }
      onNarrow={narrow}
      onClearBrush={() => setBrush(null)}
      curl={
        <CurlLink
          path="/hunts/run"
          body={{ text: asked, window: beam.window, limit: SCREEN_ROWS, parameters: blanks }}
        />
      }
    />
  );

  return (
    <main
      className="bench"
      style={{ gridTemplateColumns: readId === null ? '404px minmax(0, 1fr)' : '62px 440px minmax(0, 1fr)' }}
    >
      {readId !== null ? (
        <Spine steps={run.steps} onOpen={() => read(null)} />
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
          onPeek={(line) => peekAt(line)}
          onStop={stop}
          onPutRight={putRight}
        />
      )}
      {result}
      {readId !== null && (
        <ReadingPanel
          id={readId}
          zone={beam.zone}
          search={search}
          onStep={write}
          onClose={() => read(null)}
          also={alsoOpened(run.events, readId)}
          onRead={read}
        />
      )}
      {menu !== null && (
        <CellMenu
          picked={menu.picked}
          at={menu.at}
          onStep={write}
          onClose={() => setMenu(null)}
          {...(behind !== null && { onBehind: () => ask(behind) })}
          {...(subject !== null && {
            onDossier: () => void navigate(`/dossier/user/${encodeURIComponent(subject)}${search}`),
          })}
        />
      )}
    </main>
  );
}
