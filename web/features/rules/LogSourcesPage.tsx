import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { listLogSources } from '../../../core/wire/endpoints/log-sources.js';
import type { LogSourceList, LogSourceWire } from '../../../core/wire/log-sources.js';
import { answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count } from '../../ui/format.js';
import { Empty } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { LogSourceSheet, logSourceWords, NEW_LINE } from './LogSourceSheet.js';

/** One array for all renderings while there are none. */
const NONE: LogSourceList = { entries: [], recipes: [], known: [] };

/** A line of the table: one that can be changed, or what the recipe of a source says of itself. */
type Line = LogSourceWire & {
  readonly recipeOf: string | null;
  /** What the record itself says, where that chooses; null for lines of the table and of recipes. */
  readonly chosenBy: string | null;
};

/** What a record must say, in words. */
const chosenWords = (where: LogSourceList['known'][number]['where']): string =>
  Object.entries(where)
    .map(([field, texts]) => (texts.join() === '*' ? `has ${field}` : `${field} ${texts.join(' or ')}`))
    .join(', ');

const linesOf = ({ entries, recipes, known }: LogSourceList): Line[] => [
  ...entries.map((entry) => ({ ...entry, recipeOf: null, chosenBy: null })),
  ...recipes.map(({ source, ...parts }, i) => ({
    ...NEW_LINE,
    ...parts,
    id: -1 - i,
    sources: [source],
    given: [source],
    rules: 0,
    recipeOf: source,
    chosenBy: null,
  })),
  ...known.map(({ where, ...entry }, i) => ({
    ...NEW_LINE,
    ...entry,
    id: -100_000 - i,
    given: [],
    recipeOf: null,
    chosenBy: chosenWords(where),
  })),
];

const lineColumns = (search: string, onOpen: (id: number) => void): readonly TableColumn<Line>[] => [
  {
    id: 'named',
    head: 'log source',
    names: true,
    value: logSourceWords,
    cell: (one) =>
      one.chosenBy !== null ? (
        <>
          <span className="mono">{logSourceWords(one)}</span>
          <span className="queue-subject">
            known by itself{one.chosenBy === '' ? '' : `: the record says ${one.chosenBy}`}
          </span>
        </>
      ) : one.recipeOf === null ? (
        <>
          <button type="button" className="link mono text-start" onClick={() => onOpen(one.id)}>
            {logSourceWords(one)}
          </button>
          <span className="queue-subject">{one.note}</span>
        </>
      ) : (
        <>
          <span className="mono">{logSourceWords(one) === '' ? 'nothing said' : logSourceWords(one)}</span>
          <span className="queue-subject">
            said by the recipe of <Link to={`/sources/${one.recipeOf}${search}`}>{one.recipeOf}</Link>
          </span>
        </>
      ),
  },
  {
    id: 'kinds',
    head: 'kinds of events',
    width: 170,
    value: ({ kinds: meant }) => (meant.length === 0 ? 'any' : meant.join(', ')),
    className: () => 'mono cut',
  },
  {
    id: 'given',
    head: 'given by, 7 d',
    value: ({ given, chosenBy }) =>
      chosenBy !== null ? 'whoever sends them' : given.length === 0 ? 'no source' : given.join(', '),
    className: ({ given }) => (given.length === 0 ? 'soft' : 'mono cut'),
    cell: ({ given, chosenBy }) => (
      <span title={given.join(', ')}>
        {chosenBy !== null ? 'whoever sends them' : given.length === 0 ? 'no source' : given.join(', ')}
      </span>
    ),
  },
  {
    id: 'sources',
    head: 'sources meant',
    width: 150,
    spare: true,
    value: ({ sources }) => (sources.length === 0 ? 'any' : sources.join(', ')),
    className: () => 'mono cut',
  },
  {
    id: 'fields',
    head: 'fields',
    width: 74,
    numeric: true,
    value: ({ fields }) => Object.keys(fields).length,
  },
  {
    id: 'rules',
    head: 'rules',
    width: 74,
    numeric: true,
    value: ({ rules }) => rules,
    cell: ({ rules }) => count(rules),
  },
];

/** What log sources of the open rule format mean here: which events, and what their fields are called. */
export function LogSourcesPage(): JSX.Element {
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const person = usePerson();
  const mayChange = person.role !== 'reader';
  const [openId, setOpenId] = useState<number | 'new' | null>(null);
  const found = useQuery(answerTo(listLogSources));
  const data = found.data ?? NONE;
  const { entries } = data;
  const lines = useMemo(() => linesOf(data), [data]);
  const columns = useMemo(() => lineColumns(search, setOpenId), [search]);
  const table = useDataTable('log-sources', columns, lines);
  const entry = entries.find(({ id }) => id === openId);
  // What a recipe says of itself is changed there: the keys pass over it.
  const own = table.rows.filter(({ id }) => id > 0);
  useKeys(
    rowKeys({ rows: own, at: own.findIndex(({ id }) => id === openId), onGo: ({ id }) => setOpenId(id) }),
  );
  return (
    <main className="bench bench-log-sources">
      <ListPane
        title="Log sources"
        said="What a rule’s “logsource” means here"
        actions={
          <>
            <Link className="sm" to={`/rules${search}`}>
              All rules
            </Link>
            {mayChange && (
              <Button variant="primary" onClick={() => setOpenId('new')}>
                New line
              </Button>
            )}
          </>
        }
        answer={found}
        reading="Fetching the table"
        failed="The table cannot be shown"
        total={lines.length}
        none={<Empty title="No line yet">A line says which events a rule’s “logsource” means.</Empty>}
        table={table}
        keyOf={({ id }) => id}
        isLit={({ id }) => id === openId}
        onOpen={({ id }) => id > 0 && setOpenId(id)}
        rowClass={({ id }) => (id > 0 ? '' : 'soft')}
        below={<Changes kind="log source" zone="UTC" />}
        foot={
          <span>What a line leaves open, such as the product, is left to the recipe of each source.</span>
        }
        address="/log-sources"
      />
      {entry === undefined && openId !== 'new' ? (
        <NothingOpen
          label="Line"
          title="No line is open"
          hint="Choose one to see which events it means and what its fields are called."
        />
      ) : (
        <LogSourceSheet
          key={openId}
          entry={entry ?? null}
          sources={found.data?.recipes.map(({ source }) => source) ?? []}
          mayChange={mayChange}
          onDone={setOpenId}
        />
      )}
    </main>
  );
}
