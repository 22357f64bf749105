import { lazy, Suspense, useRef, useState, type JSX, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { asksOf } from '../../../core/wick/compile.js';
import { moveStep, moveStepTo, switchStep } from '../../../core/wick/edit-steps.js';
import { parameterise, valueAt } from '../../../core/wick/parameterise.js';
import { formatHunt } from '../../../core/wick/format.js';
import type { Problem } from '../../../core/wire/common.js';
import { Key } from '../../ui/Key.js';
import { Failed } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { Blanks } from '../../results/Blanks.js';
import type { StepCount } from '../../wick/ladder-gutters.js';
import { Shelf } from './Shelf.js';
import type { HuntRun } from '../../results/use-hunt-run.js';
import type { HuntHelp } from '../../wick/wick-help.js';
import { WickEditor } from '../../wick/WickEditor.js';

const Reference = lazy(async () => ({ default: (await import('./Reference.js')).Reference }));

const offered = ['where', 'tally', 'streak', 'debut', 'sort', 'show'] as const;

interface StepsSheetProps {
  readonly text: string;
  readonly blanks: Readonly<Record<string, string>>;
  readonly run: HuntRun;
  /** More to say of the run, such as what following leaves out. */
  readonly notes: readonly string[];
  readonly counts: readonly StepCount[];
  readonly help: HuntHelp;
  readonly stale: boolean;
  readonly onChange: (text: string) => void;
  readonly onRun: (text: string, blanks?: Readonly<Record<string, string>>) => void;
  /** A kept hunt is opened: it begins a path of its own. */
  readonly onOpen: (text: string) => void;
  readonly onPeek: (line: number) => void;
  readonly onStop: () => void;
  readonly onPutRight: (problem: Problem) => void;
  /** Absent where whoever is here may not make rules. */
  readonly onMakeRule?: (() => void) | undefined;
  readonly onPin?: (() => void) | undefined;
  /** Measures what part of the time each step takes; absent where that is told, or nothing was run. */
  readonly onTime?: (() => void) | undefined;
  /** The guided first hunt, where it is followed. */
  readonly guide: ReactNode;
  readonly onGuide: () => void;
  readonly path: ReactNode;
  readonly snapshots: ReactNode;
}

/** What the lower part of the sheet shows. */
const LOWER = { hunts: 'Saved hunts', path: 'Path', snapshots: 'Snapshots' } as const;

/** The sheet where the steps of a hunt are written. */
export function StepsSheet(props: StepsSheetProps): JSX.Element {
  const { text, blanks, run, stale, onChange, onRun } = props;
  const [{ line, offset }, setCursor] = useState({ line: 1, offset: 0 });
  const [lower, setLower] = useState<keyof typeof LOWER>('hunts');
  const [cursorLine, setCursorLine] = useState<number | null>(null);
  const [looksUp, setLooksUp] = useState(false);
  const below = useRef<HTMLDivElement>(null);
  const asks = asksOf(text);
  /** Changes the text and leaves the cursor on a line, so that the same step can be changed again. */
  const changeAt = (next: string, at: number | null): void => {
    setCursorLine(at);
    onChange(next);
  };
  const move = (way: 'up' | 'down'): void => {
    const moved = moveStep(text, line, way);
    if (moved !== null) changeAt(moved.text, moved.line);
  };
  const moveTo = (from: number, to: number): void => {
    const moved = moveStepTo(text, from, to);
    if (moved !== null) changeAt(moved.text, moved.line);
  };
  const value = valueAt(text, offset);
  const makeBlank = (): void => {
    if (value !== null) changeAt(parameterise(text, value), line + 1);
  };
  const switchOff = (): void => changeAt(switchStep(text, line), line);
  return (
    <section className="sheet" aria-label="Hunt">
      <div className="sheet-head">
        <h1 className="sheet-title grow">Hunt</h1>
        <button type="button" className="link xs" onClick={() => changeAt(formatHunt(text), line)}>
          Tidy
        </button>
        <button type="button" className="link xs" onClick={() => setLooksUp(true)}>
          Language
        </button>
        <button type="button" className="link xs" onClick={props.onGuide}>
          First hunt
        </button>
      </div>
      {props.guide}
      {asks.length > 0 && (
        <Blanks
          // Another hunt, or another address, brings its own values.
          key={JSON.stringify([asks.map(({ name }) => name), blanks])}
          asks={asks}
          filled={blanks}
          onRun={(filled) => onRun(text, filled)}
        />
      )}
      <WickEditor
        text={text}
        counts={props.counts}
        cursorLine={cursorLine}
        faulty={run.status === 'failed'}
        help={props.help}
        onChange={onChange}
        onRun={() => onRun(text)}
        onCursor={(at, sign) => setCursor({ line: at, offset: sign })}
        onPeek={props.onPeek}
        onMove={move}
        onMoveTo={moveTo}
        onSwitch={switchOff}
        onBlank={makeBlank}
      />
      <div className="add-steps">
        <span>Add</span>
        {offered.map((word) => (
          <button
            key={word}
            type="button"
            className="link"
            onClick={() => changeAt(`${text.trimEnd()}\n${word} `, null)}
          >
            {word}
          </button>
        ))}
      </div>
      <div className="add-steps" role="group" aria-label={`Step on line ${line}`}>
        <span>Step on line {line}</span>
        <button type="button" className="link" onClick={() => props.onPeek(line)} title="Alt P">
          peek
        </button>
        <button type="button" className="link" onClick={switchOff} title="Ctrl /">
          off or on
        </button>
        <button type="button" className="link" onClick={() => move('up')} title="Alt ↑">
          up
        </button>
        <button type="button" className="link" onClick={() => move('down')} title="Alt ↓">
          down
        </button>
        {value !== null && (
          <button
            type="button"
            className="link cut"
            onClick={makeBlank}
            title={`Alt B. ${value.written} becomes a blank to be filled in`}
          >
            make {value.written} a blank
          </button>
        )}
      </div>
      <div className="inset d-flex gap-2 py-2">
        <Button variant="primary" onClick={() => onRun(text)}>
          Run<kbd>Ctrl Enter</kbd>
        </Button>
        {run.status === 'running' && (
          <Button variant="outline-secondary" onClick={props.onStop}>
            Stop
          </Button>
        )}
        <span className="grow" />
        <div className="beside-run">
          {props.onMakeRule !== undefined && (
            <button type="button" className="link xs" onClick={props.onMakeRule}>
              Make it a rule
            </button>
          )}
          {props.onPin !== undefined && (
            <button type="button" className="link xs" onClick={props.onPin}>
              Into a case
            </button>
          )}
        </div>
      </div>
      <div className="scrolls" ref={below}>
        {[...run.notes, ...props.notes].map((note) => (
          <p key={note} className="stale">
            {note}
          </p>
        ))}
        {run.problem !== null && (
          <Mistake problem={run.problem} canPutRight={!stale} onPutRight={props.onPutRight} />
        )}
        {(run.status === 'running' || run.how.length > 0 || props.onTime !== undefined) && (
          <div className="inset sm d-flex align-items-start">
            <div className="grow">
              {/* Its place is kept from the start, so that nothing below moves under the hand. */}
              {run.how.length === 0 && <span className="soft">Choosing how to answer</span>}
              {run.how.length > 0 && (
                <details className="how">
                  <summary>How it was answered</summary>
                  {run.how.map((words) => (
                    <p key={words}>{words}</p>
                  ))}
                </details>
              )}
            </div>
            {props.onTime !== undefined && (
              <button type="button" className="link xs" onClick={props.onTime}>
                Time the steps
              </button>
            )}
          </div>
        )}
        <Tabs
          className="inset pt-2"
          label="Kept"
          names={Object.keys(LOWER) as (keyof typeof LOWER)[]}
          chosen={lower}
          onChoose={setLower}
          show={(name) => LOWER[name]}
        />
        {lower === 'path' && props.path}
        {lower === 'snapshots' && props.snapshots}
        {lower === 'hunts' && (
          <Shelf
            text={text}
            onOpen={(chosen) => {
              // What is said of the hunt stands above the others.
              below.current?.scrollTo({ top: 0 });
              props.onOpen(chosen);
            }}
          />
        )}
      </div>
      <div className="sheet-foot">
        <Key keys={['Ctrl Enter']}>run</Key>
        <Key keys={['Alt P']}>peek</Key>
        <Key keys={['?']}>all keys</Key>
      </div>
      {looksUp && (
        <Suspense fallback={null}>
          <Reference
            onTry={(example) => {
              changeAt(
                example.startsWith('ask') ? `${example}\n${text}` : `${text.trimEnd()}\n${example}`,
                null,
              );
              setLooksUp(false);
            }}
            onClose={() => setLooksUp(false)}
          />
        </Suspense>
      )}
    </section>
  );
}

function Mistake({
  problem,
  canPutRight,
  onPutRight,
}: {
  problem: Problem;
  canPutRight: boolean;
  onPutRight: (problem: Problem) => void;
}): JSX.Element {
  const { place } = problem;
  return (
    <Failed title={place === undefined ? problem.title : `Line ${place.line} cannot be run`}>
      {problem.detail}{' '}
      {place?.suggestion !== undefined && canPutRight && (
        <button type="button" className="link" onClick={() => onPutRight(problem)}>
          Write {place.suggestion}
        </button>
      )}
    </Failed>
  );
}
