import { DateTime } from 'luxon';
import { type JSX, lazy, Suspense } from 'react';
import { useNavigate } from 'react-router';
import { usePerson } from '../../api/session.js';
import { type NewRuleState, ruleOfHunt } from '../../make-rule/rule-text.js';
import { StepsSheet } from './StepsSheet.js';
import type { Bench } from './use-bench.js';

/** What is not there at first is fetched when it is looked at. */
const Guide = lazy(async () => ({ default: (await import('./guide/Guide.js')).Guide }));
const PathPanel = lazy(async () => ({ default: (await import('./path/PathPanel.js')).PathPanel }));
const SnapshotsPanel = lazy(async () => ({
  default: (await import('./snapshots/SnapshotsPanel.js')).SnapshotsPanel,
}));

/** The steps of the bench, with where they have been, what was kept of them, and the guided first hunt. */
export function BenchSteps({ bench, onPin }: { bench: Bench; onPin: () => void }): JSX.Element {
  const navigate = useNavigate();
  const mayChange = usePerson().role !== 'reader';
  const { address, beam, search, text, run, stale } = bench;
  const makeRule = (): void =>
    void navigate(`/rules/new${search}`, {
      state: { ruleText: ruleOfHunt(text) } satisfies NewRuleState,
    });
  return (
    <StepsSheet
      text={text}
      blanks={address.blanks}
      run={run}
      notes={beam.live ? bench.followed.notes : []}
      counts={stale ? [] : bench.counts}
      help={bench.help}
      stale={stale}
      onChange={bench.setText}
      onRun={bench.ask}
      onOpen={(chosen) => bench.ask(chosen, {}, true)}
      onPeek={bench.peekAt}
      onStop={bench.stop}
      onPutRight={bench.putRight}
      onPin={mayChange ? onPin : undefined}
      onMakeRule={mayChange ? makeRule : undefined}
      onTime={bench.untimed ? bench.wantShares : undefined}
      onGuide={() => bench.go({ guide: 1 })}
      guide={
        address.guide !== null && (
          <Suspense fallback={null}>
            <Guide
              step={address.guide}
              now={{
                text: bench.question.text,
                hours: DateTime.fromISO(beam.window.to).diff(DateTime.fromISO(beam.window.from)).as('hours'),
                split: address.split,
                reading: address.readId !== null,
                peeking: address.peek !== null,
                view: address.view,
                rows: run.rows.length,
              }}
              onStep={(next) => bench.go({ guide: next }, true)}
            />
          </Suspense>
        )
      }
      path={
        <Suspense fallback={null}>
          <PathPanel at={address.at} zone={beam.zone} onGo={bench.goBack} />
        </Suspense>
      }
      snapshots={
        <Suspense fallback={null}>
          <SnapshotsPanel question={bench.question} zone={beam.zone} search={search} />
        </Suspense>
      }
    />
  );
}
