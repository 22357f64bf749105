import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { listRunbooks, listRuns } from '../../../core/wire/endpoints/runbooks.js';
import type { RunbookSummary, RunSummary } from '../../../core/wire/runbooks.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { runWords } from '../../runbooks/run-words.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { RunbookSheet } from './RunbookSheet.js';

const NONE: readonly RunbookSummary[] = [];
const NEW = 'new';

const versionWords = ({ version, ships, changedBy }: RunbookSummary): string =>
  version === 0 ? 'as it came' : `version ${version} by ${changedBy ?? ''}${ships ? ', changed here' : ''}`;

const columns = (search: string): readonly TableColumn<RunbookSummary>[] => [
  {
    id: 'title',
    head: 'runbook',
    names: true,
    value: ({ title }) => title,
    cell: (one) => (
      <>
        <Link to={`/runbooks/${one.name}${search}`}>{one.title}</Link>
        <span className="queue-subject xs" title={one.about}>
          {one.about}
        </span>
      </>
    ),
  },
  { id: 'steps', head: 'steps', width: 60, numeric: true, value: ({ steps }) => steps },
  { id: 'version', head: 'kept', width: 150, value: versionWords, className: () => 'cut soft' },
];

/** What to do when something happened: the runbooks there are, and how those stand that run. */
export function RunbooksPage(): JSX.Element {
  const name = useParams()['name'] ?? null;
  const navigate = useNavigate();
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const mayChange = usePerson().role !== 'reader';
  const found = useQuery(answerTo(listRunbooks));
  const runs = useQuery(answerTo(listRuns, { query: {} }));
  const all = found.data?.runbooks ?? NONE;
  const shown = useMemo(() => columns(search), [search]);
  const table = useDataTable('runbooks', shown, all);
  const open = (one: string): void => void navigate(`/runbooks/${one}${search}`);
  useKeys({
    ...rowKeys({
      rows: table.rows,
      at: table.rows.findIndex((row) => row.name === name),
      onGo: (row: RunbookSummary) => open(row.name),
    }),
  });
  return (
    <main className="bench bench-runbooks">
      <ListPane
        title="Runbooks"
        actions={
          <>
            <Link className="sm" to={`/rules${search}`}>
              All rules
            </Link>
            {mayChange && (
              <Button variant="primary" onClick={() => open(NEW)}>
                New runbook
              </Button>
            )}
          </>
        }
        answer={found}
        reading="Fetching the runbooks"
        failed="They cannot be shown"
        total={all.length}
        none={
          <Empty title="No runbooks">A runbook is what to do when something happened, step by step.</Empty>
        }
        table={table}
        keyOf={(one) => one.name}
        isLit={(one) => one.name === name}
        onOpen={(one) => open(one.name)}
        after={<LatestRuns runs={runs.data?.runs ?? []} zone={beam.zone} search={search} />}
        below={<Changes kind="runbook" zone={beam.zone} />}
        foot={<Key keys={['J', 'K']}>next, previous</Key>}
        address="/runbooks"
      />
      {name === null ? (
        <NothingOpen
          label="Runbook"
          title="No runbook is open"
          hint="Open one to read its steps, try it on an alert, or change it. It is started from an alert or a case."
        />
      ) : (
        <RunbookSheet key={name} name={name === NEW ? null : name} search={search} mayChange={mayChange} />
      )}
    </main>
  );
}

function LatestRuns({
  runs,
  zone,
  search,
}: {
  runs: readonly RunSummary[];
  zone: string;
  search: string;
}): JSX.Element {
  return (
    <>
      <div className="sub-head ruled">
        <h2 className="section-head grow">Runs</h2>
        <span className="sm soft">
          {count(runs.filter(({ state }) => state === 'running').length)} under way
        </span>
      </div>
      {runs.length === 0 && (
        <p className="inset sm soft">None was started yet. One is started from an alert or a case.</p>
      )}
      {runs.slice(0, 50).map((run) => (
        <div key={run.id} className={`row-line ${run.waits === 'answer' ? 'lit' : ''}`}>
          <span className="mono xs nowrap">{showTime(run.started, zone, 'minute')}</span>
          <Link className="cut" to={`/runbooks/runs/${run.id}${search}`}>
            {run.title}: <span className="mono">{run.subject}</span>
          </Link>
          <span className={`cut fill sm ${run.state === 'failed' ? 'problem' : 'soft'}`}>
            {runWords(run, zone)}
          </span>
        </div>
      ))}
    </>
  );
}
