import type { JSX } from 'react';
import { tallyStep } from '../../../core/wick/write-step.js';
import { exportHunt, exportLongHunt } from '../../../core/wire/endpoints/hunts.js';
import { addressOf } from '../../api/call.js';
import type { RowEvent } from '../../api/hunt-stream.js';
import { pictureKinds } from '../../../core/boards/picture-kinds.js';
import { OnABoard } from '../../boards/OnABoard.js';
import { CurlLink } from '../../kit/Curl.js';
import { HuntTimeline } from '../../results/HuntTimeline.js';
import { MAX_SCREEN_ROWS } from '../../results/use-hunt-run.js';
import { FollowLine } from './FollowLine.js';
import { Result } from './Result.js';
import type { Bench } from './use-bench.js';

/** What a card made of a hunt is called at first. */
const lastStep = (text: string): string => text.trimEnd().split('\n').at(-1)?.slice(0, 120) || 'A hunt';

const NO_EVENTS: readonly RowEvent[] = [];

/** The result of what runs on the bench. */
export function BenchResult({ bench }: { bench: Bench }): JSX.Element {
  const { address, beam, run, held, brush, followed, go, setOpened } = bench;
  const { peek, view, readId } = address;
  const pick: Parameters<typeof Result>[0]['onPick'] = (picked, at) =>
    setOpened({ open: 'cell', picked, at });
  return (
    <Result
      run={run}
      reading={readId}
      zone={beam.zone}
      brush={brush}
      stale={bench.stale}
      question={bench.now}
      onMore={bench.rows < MAX_SCREEN_ROWS ? bench.wantMore : undefined}
      chosen={address.columns}
      onChoose={(names) => go({ columns: names }, true)}
      onTally={(names) => bench.writeStep(tallyStep(names))}
      onOver={(inside) => {
        // The rows never jump under the pointer.
        if (beam.live) bench.point(inside);
      }}
      onPick={pick}
      onColumn={(column, at, shown) => setOpened({ open: 'column', column, shown, at })}
      onRead={(event) => go({ readId: event.id })}
      onStop={bench.stop}
      held={held ? bench.cost : null}
      onRunAgain={() => bench.ask(bench.text)}
      view={view}
      onView={(next) => go({ view: next === 'table' ? null : next })}
      exports={{
        address: (format) =>
          `/api/v1${addressOf(exportHunt, {
            query: {
              format,
              text: bench.now.text,
              ...beam.window,
              parameters: JSON.stringify(address.blanks),
              carried: JSON.stringify(beam.carried),
            },
          })}`,
        request: (format) => ({
          path: exportLongHunt.path,
          body: {
            format,
            text: bench.now.text,
            window: beam.window,
            parameters: address.blanks,
            carried: beam.carried,
          },
        }),
      }}
      peek={peek === null ? null : { line: peek, onWhole: () => bench.peekAt(null) }}
      follow={beam.live ? <FollowLine followed={followed} onPause={bench.pause} /> : null}
      live={beam.live && !followed.paused ? followed.events : NO_EVENTS}
      timeline={
        <HuntTimeline
          {...bench.lit}
          held={held}
          zone={beam.zone}
          brush={brush}
          onBrush={bench.setBrush}
          split={address.split}
          onSplit={(next) => go({ split: next })}
          before={address.before}
          onBefore={(next) => go({ before: next })}
          onPick={pick}
        />
      }
      onNarrow={bench.narrow}
      onClearBrush={() => bench.setBrush(null)}
      curl={
        <>
          <OnABoard
            hunt={bench.now.text}
            title={lastStep(bench.now.text)}
            picture={pictureKinds.find((kind) => kind === view) ?? 'rows'}
            className="link"
          />
          <CurlLink path="/hunts/run" body={{ ...bench.now, limit: bench.rows }} />
        </>
      }
    />
  );
}
