import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { kindNames, kinds } from '../../../core/events/kinds.js';
import {
  addLogSource,
  changeLogSource,
  listLogSources,
  removeLogSource,
} from '../../../core/wire/endpoints/log-sources.js';
import type { LogSourceBody, LogSourceList, LogSourceWire } from '../../../core/wire/log-sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { ApiFailure } from '../../api/client.js';
import { usePerson } from '../../api/session.js';
import { beamSearch } from '../../beam/beam.js';
import { Changes } from '../../changes/Changes.js';
import { NothingOpen } from '../../kit/Detail.js';
import { ListPane } from '../../kit/ListPane.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { rowKeys } from '../../kit/row-keys.js';
import { type TableColumn, useDataTable } from '../../ui/data-table.js';
import { count } from '../../ui/format.js';
import { Empty, Failed } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';

const NEW: LogSourceBody = {
  category: '',
  product: null,
  service: null,
  kinds: [],
  sources: [],
  fields: {},
  note: '',
};

/** The words of a log source, `category process_creation, product windows`. */
const named = ({
  category,
  product,
  service,
}: Pick<LogSourceBody, 'category' | 'product' | 'service'>): string =>
  [category, product, service].filter((word) => word !== null && word !== '').join(' / ');

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
    ...NEW,
    ...parts,
    id: -1 - i,
    sources: [source],
    given: [source],
    rules: 0,
    recipeOf: source,
    chosenBy: null,
  })),
  ...known.map(({ where, ...entry }, i) => ({
    ...NEW,
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
    value: named,
    cell: (one) =>
      one.chosenBy !== null ? (
        <>
          <span className="mono">{named(one)}</span>
          <span className="queue-subject">
            known by itself{one.chosenBy === '' ? '' : `: the record says ${one.chosenBy}`}
          </span>
        </>
      ) : one.recipeOf === null ? (
        <>
          <button type="button" className="link mono text-start" onClick={() => onOpen(one.id)}>
            {named(one)}
          </button>
          <span className="queue-subject">{one.note}</span>
        </>
      ) : (
        <>
          <span className="mono">{named(one) === '' ? 'nothing said' : named(one)}</span>
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
        <EntrySheet
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

/** Fields as lines of text: the name that rules use, an equals sign, ours. */
export const fieldsToText = (fields: Readonly<Record<string, string>>): string =>
  Object.entries(fields)
    .map(([theirs, ours]) => `${theirs} = ${ours}`)
    .join('\n');

/** @returns the fields, or the number of the first line that cannot be read */
export function textToFields(text: string): Record<string, string> | number {
  const fields: Record<string, string> = {};
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const match = /^\s*(.+?)\s*=\s*(\S.*?)\s*$/.exec(line);
    if (match?.[1] === undefined || match[2] === undefined) return i + 1;
    fields[match[1]] = match[2];
  }
  return fields;
}

function EntrySheet({
  entry,
  sources,
  mayChange,
  onDone,
}: {
  entry: LogSourceWire | null;
  sources: readonly string[];
  mayChange: boolean;
  onDone: (open: number | null) => void;
}): JSX.Element {
  const client = useQueryClient();
  const begin = entry ?? NEW;
  const [parts, setParts] = useState({
    category: begin.category ?? '',
    product: begin.product ?? '',
    service: begin.service ?? '',
  });
  const [chosenKinds, setKinds] = useState<readonly string[]>(begin.kinds);
  const [chosenSources, setSources] = useState<readonly string[]>(begin.sources);
  const [fieldText, setFieldText] = useState(fieldsToText(begin.fields));
  const [note, setNote] = useState(begin.note);
  const fields = textToFields(fieldText);
  const refresh = (): Promise<void> => client.invalidateQueries(about('log-sources'));
  const save = useMutation({
    mutationFn: () => {
      const body = {
        category: parts.category === '' ? null : parts.category,
        product: parts.product === '' ? null : parts.product,
        service: parts.service === '' ? null : parts.service,
        kinds: [...chosenKinds] as (typeof begin.kinds)[number][],
        sources: chosenSources,
        fields: typeof fields === 'number' ? {} : fields,
        note,
      };
      return entry === null
        ? call(addLogSource, { body })
        : call(changeLogSource, { params: { entry: entry.id }, body });
    },
    onSuccess: async (saved) => {
      await refresh();
      onDone(saved.id);
    },
  });
  const remove = useMutation({
    mutationFn: () => call(removeLogSource, { params: { entry: entry?.id ?? 0 } }),
    onSuccess: async () => {
      await refresh();
      onDone(null);
    },
  });
  const flip = (chosen: readonly string[], one: string): string[] =>
    chosen.includes(one) ? chosen.filter((other) => other !== one) : [...chosen, one];
  const failure = save.error ?? remove.error;
  return (
    <section className="sheet" aria-label="Line">
      <div className="sheet-head">
        <h2 className="sheet-title grow">{entry === null ? 'New line' : named(entry)}</h2>
      </div>
      <Form
        className="scrolls"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <fieldset className="inset d-grid gap-2 pb-2" disabled={!mayChange}>
          {(['category', 'product', 'service'] as const).map((part) => (
            <Form.Group
              key={part}
              controlId={`log-source-${part}`}
              className="d-flex gap-2 align-items-center"
            >
              <Form.Label className="sm mb-0 field-name">{part}</Form.Label>
              <Form.Control
                size="sm"
                className="mono"
                placeholder="any"
                value={parts[part]}
                onChange={(event) => setParts({ ...parts, [part]: event.target.value })}
              />
            </Form.Group>
          ))}
          <Form.Group controlId="log-source-note">
            <Form.Label className="sm mb-0">What it is, in words</Form.Label>
            <Form.Control
              size="sm"
              value={note}
              maxLength={1000}
              onChange={(event) => setNote(event.target.value)}
            />
          </Form.Group>
          <div>
            <h3 className="section-head">Kinds of events that are meant</h3>
            <div className="chosen-words">
              {kindNames.map((kind) => (
                <Form.Check
                  key={kind}
                  id={`log-source-kind-${kind}`}
                  label={<span className="mono">{kind}</span>}
                  title={kinds[kind]}
                  checked={chosenKinds.includes(kind)}
                  onChange={() => setKinds(flip(chosenKinds, kind))}
                />
              ))}
            </div>
            <p className="xs faint mb-0">{chosenKinds.length === 0 ? 'None chosen: any kind.' : ''}</p>
          </div>
          <div>
            <h3 className="section-head">Sources that are meant</h3>
            <div className="chosen-words">
              {sources.map((source) => (
                <Form.Check
                  key={source}
                  id={`log-source-of-${source}`}
                  label={<span className="mono">{source}</span>}
                  checked={chosenSources.includes(source)}
                  onChange={() => setSources(flip(chosenSources, source))}
                />
              ))}
            </div>
            <p className="xs faint mb-0">{chosenSources.length === 0 ? 'None chosen: any source.' : ''}</p>
          </div>
          <Form.Group controlId="log-source-fields">
            <Form.Label className="section-head mb-0">Fields</Form.Label>
            <p className="xs faint mb-1">
              A line each: the name that rules use = ours, or the source’s own with dots.
            </p>
            <Form.Control
              as="textarea"
              rows={8}
              className="mono"
              value={fieldText}
              placeholder="Image = process_path"
              onChange={(event) => setFieldText(event.target.value)}
            />
          </Form.Group>
        </fieldset>
        {typeof fields === 'number' && (
          <Failed title={`Line ${fields} of the fields cannot be read`}>
            Write it as: Image = process_path
          </Failed>
        )}
        {failure instanceof ApiFailure && (
          <Failed title={failure.problem.title}>{failure.problem.detail}</Failed>
        )}
        {mayChange && (
          <div className="inset d-flex gap-2 py-2 align-items-center">
            <Button type="submit" variant="primary" disabled={save.isPending || typeof fields === 'number'}>
              {entry === null ? 'Add the line' : 'Keep the line'}
            </Button>
            {entry !== null && (
              <RemoveButton
                what="this line"
                consequence="Rules that are meant for it are asked of no source any more."
                onRemove={() => remove.mutate()}
              />
            )}
            {save.isSuccess && <span className="sm soft">Kept. Rules follow from the next record on.</span>}
          </div>
        )}
      </Form>
    </section>
  );
}
