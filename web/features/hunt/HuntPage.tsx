import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { useCallback, useEffect, useMemo, useRef, useState, type JSX } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate, useSearchParams } from 'react-router';
import type { Problem } from '../../../core/wire/common.js';
import type { ListSummary } from '../../../core/wire/lists.js';
import type { Source } from '../../../core/wire/sources.js';
import type { CompileOptions } from '../../../core/wick/compile.js';
import { addStep, stepFor, type ValueAction } from '../../../core/wick/write-step.js';
import { askJson } from '../../api/client.js';
import type { RowEvent } from '../../api/hunt-stream.js';
import { keys } from '../../api/keys.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { Key } from '../../ui/Key.js';
import { Failed } from '../../ui/State.js';
import type { Brush } from '../../ui/Timeline.js';
import { useKeys } from '../../ui/use-keys.js';
import { CellMenu, type PickedValue } from './CellMenu.js';
import { FollowLine } from './FollowLine.js';
import { Examples } from './Examples.js';
import { HuntTimeline } from './HuntTimeline.js';
import type { StepCount } from './ladder-gutters.js';
import { ReadingPanel } from './ReadingPanel.js';
import { Result } from './Result.js';
import { Spine } from './Spine.js';
import { useFollow } from './use-follow.js';
import { withLive } from './with-live.js';
import { SCREEN_ROWS, useHuntRun, type HuntRun } from './use-hunt-run.js';
import { WickEditor } from './WickEditor.js';

const NO_EVENTS: readonly RowEvent[] = [];
const FIRST_HUNT = 'from signin';
const offered = ['where', 'tally', 'sort', 'first', 'show', 'set', 'look up', 'hide'] as const;
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

/** The bench where steps are written and results read. */
export function HuntPage(): JSX.Element {
  const { at, again } = useAsked();
  const { beam, change } = useBeam(at);
  const [parameters, setParameters] = useSearchParams();
  const navigate = useNavigate();
  const asked = parameters.get('q') ?? FIRST_HUNT;
  const readId = parameters.get('event');
  const [text, setText] = useState(asked);
  const { run: ran, start, stop } = useHuntRun(asked, beam.window);
  const { followed, pause, point } = useFollow(asked, beam.live);
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
  const lastAsked = useRef(asked);
  useEffect(() => {
    if (lastAsked.current !== asked) setText(asked);
    lastAsked.current = asked;
  }, [asked]);

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
    (next: string) => {
      again();
      const unchanged = next === (parameters.get('q') ?? FIRST_HUNT);
      setParameters((before) => {
        const changed = new URLSearchParams(before);
        changed.set('q', next);
        return changed;
      });
      // The same text over the same window is asked again all the same.
      if (unchanged && beam.last === null) start();
    },
    [again, setParameters, parameters, start, beam.last],
  );
  const write = useCallback(
    (action: ValueAction, picked: PickedValue) => {
      const step = stepFor(action, {
        column: picked.column.name,
        type: picked.column.type,
        value: picked.value,
      });
      if (step === null) return;
      const next = addStep(text, step, options);
      setText(next);
      ask(next);
    },
    [text, options, ask],
  );
  const read = useCallback(
    (id: string | null) =>
      setParameters((before) => {
        const changed = new URLSearchParams(before);
        if (id === null) changed.delete('event');
        else changed.set('event', id);
        return changed;
      }),
    [setParameters],
  );
  useKeys({
    p: () => beam.live && pause(!followed.paused),
    Escape: () => (readId !== null ? read(null) : setBrush(null)),
  });

  const counts = useMemo(() => toCounts(run.steps), [run.steps]);
  const narrow = (): void => {
    if (brush === null) return;
    change({ from: new Date(brush.from).toISOString(), to: new Date(brush.to).toISOString() });
  };
  const stale = text.trim() !== asked.trim();
  const picked = menu?.picked;
  const subject =
    picked !== undefined &&
    SUBJECTS.has(picked.column.field ?? '') &&
    typeof picked.value === 'string' &&
    picked.value !== ''
      ? picked.value
      : null;
  const putRight = (problem: Problem): void => {
    const next = corrected(asked, problem);
    if (next === null) return;
    setText(next);
    ask(next);
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
      follow={beam.live ? <FollowLine followed={followed} onPause={pause} /> : null}
      live={beam.live && !followed.paused ? followed.events : NO_EVENTS}
      timeline={
        <HuntTimeline text={asked} window={beam.window} zone={beam.zone} brush={brush} onBrush={setBrush} />
      }
      onNarrow={narrow}
      onClearBrush={() => setBrush(null)}
      curl={<CurlLink path="/hunts/run" body={{ text: asked, window: beam.window, limit: SCREEN_ROWS }} />}
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
        <section className="sheet" aria-label="Hunt">
          <div className="sheet-head">
            <h1 className="sheet-title grow">Hunt</h1>
            <span className="xs soft">steps run from top to bottom</span>
          </div>
          <WickEditor
            text={text}
            counts={stale ? [] : counts}
            help={help}
            onChange={setText}
            onRun={() => ask(text)}
          />
          <div className="add-steps">
            <span>Add</span>
            {offered.map((word) => (
              <button
                key={word}
                type="button"
                className="link"
                onClick={() => setText((before) => `${before.trimEnd()}\n${word} `)}
              >
                {word}
              </button>
            ))}
          </div>
          <div className="inset d-flex gap-2 py-2">
            <Button variant="primary" onClick={() => ask(text)}>
              Run<kbd>Ctrl Enter</kbd>
            </Button>
            {run.status === 'running' && (
              <Button variant="outline-secondary" onClick={stop}>
                Stop
              </Button>
            )}
          </div>
          <div className="scrolls">
            {[...run.notes, ...(beam.live ? followed.notes : [])].map((note) => (
              <p key={note} className="stale">
                {note}
              </p>
            ))}
            {run.problem !== null && (
              <Failed
                title={
                  run.problem.place === undefined
                    ? run.problem.title
                    : `Line ${run.problem.place.line} cannot be run`
                }
              >
                {run.problem.detail}{' '}
                {run.problem.place?.suggestion !== undefined && !stale && (
                  <button
                    type="button"
                    className="link"
                    onClick={() => run.problem !== null && putRight(run.problem)}
                  >
                    Write {run.problem.place.suggestion}
                  </button>
                )}
              </Failed>
            )}
            <Examples
              lists={help.catalogue.lists}
              onChoose={(example) => {
                setText(example);
                ask(example);
              }}
            />
          </div>
          <div className="sheet-foot">
            <Key keys={['Ctrl Enter']}>run</Key>
            <Key keys={['Ctrl Space']}>complete</Key>
            <Key keys={['?']}>all keys</Key>
          </div>
        </section>
      )}
      {result}
      {readId !== null && (
        <ReadingPanel
          id={readId}
          zone={beam.zone}
          search={search}
          onStep={write}
          onClose={() => read(null)}
        />
      )}
      {menu !== null && (
        <CellMenu
          picked={menu.picked}
          at={menu.at}
          onStep={write}
          onClose={() => setMenu(null)}
          {...(subject !== null && {
            onDossier: () => void navigate(`/dossier/user/${encodeURIComponent(subject)}${search}`),
          })}
        />
      )}
    </main>
  );
}
