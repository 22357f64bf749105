import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { listSources } from '../../../core/wire/endpoints/sources.js';
import type { Source } from '../../../core/wire/sources.js';
import { answerTo } from '../../api/call.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count, roughly, showTime } from '../../ui/format.js';
import { SourceGlyph } from '../../ui/Glyphs.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { NewSource } from './NewSource.js';
import { SourceSheet } from './SourceSheet.js';
import { SparkBars } from './SparkBars.js';

/** One array for all renderings while there are none. */
const NONE: readonly Source[] = [];

const sourceColumns = (zone: string, search: string): readonly TableColumn<Source>[] => [
  {
    id: 'source',
    head: 'source',
    names: true,
    value: ({ name }) => name,
    cell: ({ name, title }) => (
      <>
        <RowLink to={`/sources/${name}${search}`}>{title}</RowLink>
        <span className="queue-subject mono">{name}</span>
      </>
    ),
  },
  {
    id: 'state',
    head: 'state',
    width: 92,
    value: ({ state }) => state,
    cell: ({ state }) => (
      <>
        <SourceGlyph state={state} /> {state}
      </>
    ),
  },
  {
    id: 'last',
    head: 'last event',
    width: 110,
    value: ({ lastEvent }) => lastEvent,
    cell: ({ lastEvent }) =>
      lastEvent === null ? <span className="absent">never</span> : showTime(lastEvent, zone, 'minute'),
  },
  {
    id: 'day',
    head: 'last 24 hours',
    width: 108,
    value: ({ perHour }) => perHour.reduce((sum, one) => sum + one, 0),
    cell: ({ perHour }) => (
      <SparkBars values={perHour} label={`events of each hour: ${perHour.join(', ')}`} />
    ),
  },
  {
    id: 'lag',
    head: 'lag',
    width: 92,
    numeric: true,
    value: ({ lag }) => lag?.median ?? null,
    cell: ({ lag }) =>
      lag === null ? (
        <span className="absent">none</span>
      ) : (
        <>
          {roughly(lag.median)}
          <span className="queue-subject">95%: {roughly(lag.most)}</span>
        </>
      ),
  },
  {
    id: 'aside',
    head: 'set aside',
    width: 82,
    numeric: true,
    value: ({ setAside }) => setAside,
    cell: ({ setAside }) => (
      <span style={setAside > 0 ? { color: 'var(--sev-4)', fontWeight: 550 } : {}}>{count(setAside)}</span>
    ),
  },
];

/** Where records come from, and how each source stands. */
export function SourcesPage(): JSX.Element {
  const { source: name } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const search = beamSearch(parameters);
  const sources = useQuery(answerTo(listSources));
  const all = sources.data?.sources ?? NONE;
  const within = `?${parameters.toString()}`;
  const columns = useMemo(() => sourceColumns(beam.zone, within), [beam.zone, within]);
  const table = useDataTable('sources', columns, all);
  const open = all.find((source) => source.name === name) ?? (name === undefined ? table.rows[0] : undefined);
  const go = (source: Source): void => void navigate(`/sources/${source.name}${within}`);
  useKeys(
    rowKeys({
      rows: table.rows,
      at: table.rows.findIndex((source) => source.name === open?.name),
      onGo: go,
    }),
  );
  return (
    <main className="bench bench-sources">
      <ListPane
        title="Sources"
        actions={
          <>
            <Link className="sm" to={`/sources/~way-in${search}`}>
              Way in
            </Link>
            <NewSource onMade={(made) => void navigate(`/sources/${made}${search}`)} />
          </>
        }
        answer={sources}
        reading="Fetching sources"
        failed="Sources cannot be shown"
        total={all.length}
        none={
          <Empty title="No sources yet">
            Add the first one: it gets a recipe that reads its records, and a key to send them with.
          </Empty>
        }
        table={table}
        keyOf={(source) => source.name}
        isLit={(source) => source.name === open?.name}
        onOpen={go}
        foot={
          <span>
            Quiet: silent for longer than ever in the last week. Late: 5 in 100 over 15 min old. Times are{' '}
            {beam.zone}.
          </span>
        }
        address="/sources"
      />
      {open === undefined ? (
        <NothingOpen
          label="Source"
          title={
            name === undefined || !sources.isSuccess ? 'No source is open' : `There is no source "${name}"`
          }
          hint={all.length === 0 ? 'Add the first one at the left.' : 'Choose one from the list.'}
        />
      ) : (
        <SourceSheet key={open.name} source={open} zone={beam.zone} search={search} />
      )}
    </main>
  );
}
