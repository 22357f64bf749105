import { type JSX, lazy, Suspense, useState } from 'react';
import { eventsBehind } from '../../../core/wick/edit-steps.js';
import { columnStep, renameStep } from '../../../core/wick/write-step.js';
import { usePerson } from '../../api/session.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { alsoOpened, timeOf } from '../../wick/bench-words.js';
import { BenchMenus } from './BenchMenus.js';
import { BenchResult } from './BenchResult.js';
import { BenchSteps } from './BenchSteps.js';
import { Spine } from './Spine.js';
import { type Bench, useBench } from './use-bench.js';

const ReadingPanel = lazy(async () => ({ default: (await import('./ReadingPanel.js')).ReadingPanel }));

/** The bench where steps are written and results read. */
export function HuntPage(): JSX.Element {
  const bench = useBench();
  const [pinning, setPinning] = useState(false);
  const { address, run, go, text } = bench;
  const { readId } = address;
  return (
    <main
      className={`bench ${readId === null ? 'bench-hunt' : 'bench-reading'}`}
      aria-busy={run.status === 'running' || bench.timelineIsBusy}
    >
      {readId !== null ? (
        <Spine steps={run.steps} onOpen={() => go({ readId: null })} />
      ) : (
        <BenchSteps bench={bench} onPin={() => setPinning(true)} />
      )}
      <BenchResult bench={bench} />
      {readId !== null && <OpenEvent bench={bench} id={readId} />}
      <OpenMenu bench={bench} />
      {pinning && (
        <PinToCase
          pins={[
            {
              kind: 'hunt',
              ref: `/hunt?${bench.parameters.toString()}`,
              title: text.split('\n').join(' | ').slice(0, 500),
              time: null,
            },
          ]}
          suggested="A hunt worth keeping"
          search={bench.search}
          onClose={() => setPinning(false)}
        />
      )}
    </main>
  );
}

/** One event beside the result, in full. */
function OpenEvent({ bench, id }: { bench: Bench; id: string }): JSX.Element {
  const { run, go } = bench;
  return (
    <Suspense fallback={<section className="sheet" aria-label="Reading" />}>
      <ReadingPanel
        id={id}
        zone={bench.beam.zone}
        search={bench.search}
        onStep={bench.write}
        onPick={(picked, at) => bench.setOpened({ open: 'cell', picked, at })}
        onClose={() => go({ readId: null })}
        also={alsoOpened(run.events, id)}
        time={timeOf(run.events, id)}
        onRead={(other) => go({ readId: other })}
        onNext={bench.readNext}
      />
    </Suspense>
  );
}

/** The menu of the cell or column that was pressed, and what it opens. */
function OpenMenu({ bench }: { bench: Bench }): JSX.Element {
  const mayChange = usePerson().role !== 'reader';
  const { now, options, text } = bench;
  return (
    <BenchMenus
      opened={bench.opened}
      onOpen={bench.setOpened}
      question={now}
      zone={bench.beam.zone}
      search={bench.search}
      mayChange={mayChange}
      onStep={bench.write}
      onColumnStep={(action, column) => bench.writeStep(columnStep(action, column.name))}
      onRename={(column, name, shown) =>
        bench.ask(`${text.trimEnd()}\n${renameStep(shown, column.name, name)}`)
      }
      onSplit={(field) => bench.go({ split: field === 'outcome' ? null : field })}
      onCarry={bench.carry}
      behind={(picked) => (picked.row === undefined ? null : eventsBehind(now.text, picked.row, options))}
      onAsk={bench.ask}
    />
  );
}
