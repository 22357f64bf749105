import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo } from 'react';
import { listJobs } from '../../../core/wire/endpoints/jobs.js';
import type { Job } from '../../../core/wire/jobs.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { useBeam } from '../../beam/beam.js';
import { ListPane } from '../../kit/ListPane.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { showTime } from '../../ui/format.js';
import { Empty } from '../../ui/State.js';

/** One array for all renderings while there are none. */
const NONE: readonly Job[] = [];
/** The page is looked at while something is wrong: it follows by itself. */
const REFRESH_MILLISECONDS = 5000;

const pauseWords = (seconds: number): string =>
  seconds >= 3600
    ? `every ${seconds / 3600} h`
    : seconds >= 60
      ? `every ${seconds / 60} min`
      : `every ${seconds} s`;

const stateOf = ({ failure, runningSince }: Job): string =>
  runningSince !== null ? 'runs' : failure !== null ? 'failed' : 'waits';

const jobColumns = (zone: string): readonly TableColumn<Job>[] => {
  const at = (time: string | null): string => (time === null ? '' : showTime(time, zone, 'second'));
  return [
    { id: 'title', head: 'work', names: true, value: ({ title }) => title },
    {
      id: 'state',
      head: 'state',
      width: 80,
      value: stateOf,
      cell: (job) => <span className={job.failure === null ? '' : 'problem'}>{stateOf(job)}</span>,
    },
    { id: 'pause', head: 'how often', width: 110, value: ({ pause }) => pauseWords(pause) },
    {
      id: 'ended',
      head: `ended last, ${zone}`,
      width: 170,
      value: ({ lastEnded }) => lastEnded ?? '',
      cell: ({ lastEnded }) => <span className="mono xs">{at(lastEnded)}</span>,
    },
    {
      id: 'next',
      head: 'due next',
      width: 170,
      value: ({ nextDue }) => nextDue ?? '',
      cell: ({ runningSince, nextDue }) => (
        <span className="mono xs">{runningSince === null ? at(nextDue) : `since ${at(runningSince)}`}</span>
      ),
    },
    {
      id: 'failure',
      head: 'why it failed',
      width: 260,
      value: ({ failure }) => failure ?? '',
    },
  ];
};

/** What the workbench does by the clock, and how that went; for administrators. */
export function ClockPage(): JSX.Element {
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const { role } = usePerson();
  const found = useQuery({
    ...answerTo(listJobs),
    enabled: role === 'admin',
    refetchInterval: REFRESH_MILLISECONDS,
  });
  const jobs = found.data?.jobs ?? NONE;
  const columns = useMemo(() => jobColumns(beam.zone), [beam.zone]);
  const table = useDataTable('clock', columns, jobs);
  const failed = jobs.filter(({ failure }) => failure !== null).length;
  return (
    <main className="bench">
      <ListPane
        title="Work by the clock"
        said={
          failed > 0 && (
            <span className="problem">
              {failed} {failed === 1 ? 'failed' : 'have failed'}
            </span>
          )
        }
        answer={role === 'admin' ? found : null}
        reading="Fetching what is done by the clock"
        failed="It cannot be shown"
        total={jobs.length}
        none={
          role === 'admin' ? (
            <Empty title="Nothing has run yet">
              The first rounds are told a few seconds after the start.
            </Empty>
          ) : (
            <Empty title="For administrators">Somebody who administers this looks after it.</Empty>
          )
        }
        table={table}
        keyOf={({ name }) => name}
        foot={
          <span>
            What fails is tried again in its next round; what is due often is told every ten seconds.
          </span>
        }
        address="/jobs"
      />
    </main>
  );
}
