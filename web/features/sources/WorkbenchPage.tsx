import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams, useSearchParams } from 'react-router';
import type { SentBodyOf } from '../../../core/wire/endpoint.js';
import { readRecipe, sampleSource, saveRecipe, tryRecipe } from '../../../core/wire/endpoints/recipes.js';
import { listSources } from '../../../core/wire/endpoints/sources.js';
import type { RecipeInFull, RecipeTried, Source } from '../../../core/wire/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../kit/Curl.js';
import { DocumentEditor } from '../../ui/DocumentEditor.js';
import { TextMark } from '../../ui/Glyphs.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { CoverageTable } from './CoverageTable.js';
import { Rereads } from './Rereads.js';
import { TriedRecords } from './TriedRecords.js';
import { VersionDiff } from './VersionDiff.js';

/** Trying follows typing by so much. */
const TRY_MILLISECONDS = 350;

const spell = (document: unknown): string => `${JSON.stringify(document, null, 2)}\n`;

/** Where a recipe is written against records of its source, and seen at work on them. */
export function WorkbenchPage(): JSX.Element {
  const { source: name = '' } = useParams();
  const sources = useQuery(answerTo(listSources));
  const source = sources.data?.sources.find((one) => one.name === name);
  const recipe = useQuery({
    ...answerTo(readRecipe, { params: { recipe: source?.recipe ?? '' } }),
    enabled: source !== undefined,
  });
  const sample = useQuery({
    ...answerTo(sampleSource, { params: { source: name } }),
    enabled: source !== undefined,
    staleTime: Infinity,
  });
  const failed = sources.error ?? recipe.error ?? sample.error;
  if (failed !== null || (sources.isSuccess && source === undefined))
    return (
      <Alone>
        {failed !== null ? (
          <Failed title="The workbench cannot be opened">{failed.message}</Failed>
        ) : (
          <Empty title={`There is no source "${name}"`}>
            <Link to="/sources">Go to Sources</Link>
          </Empty>
        )}
      </Alone>
    );
  if (source === undefined || recipe.data === undefined || sample.data === undefined)
    return (
      <Alone>
        <Reading title="Fetching the recipe and records" />
      </Alone>
    );
  return (
    <Workbench key={source.name} source={source} inFull={recipe.data} firstSample={sample.data.sample} />
  );
}

const Alone = ({ children }: { children: JSX.Element }): JSX.Element => (
  <main className="bench">
    <section className="sheet" aria-label="Recipe">
      {children}
    </section>
  </main>
);

/** Reads JSON, and says on which line it is none. */
function readDocument(text: string): {
  document?: unknown;
  mistake: { line: number; message: string } | null;
} {
  try {
    return { document: JSON.parse(text) as unknown, mistake: null };
  } catch (error) {
    const message = error instanceof Error ? error.message : 'it cannot be read';
    const at = Number(/position (\d+)/.exec(message)?.[1] ?? text.length);
    return { mistake: { line: text.slice(0, at).split('\n').length, message } };
  }
}

/** The text of a recipe with one more mapping. */
function withMapping(text: string, column: string, field: string): string {
  const { document } = readDocument(text);
  if (typeof document !== 'object' || document === null) return text;
  const recipe = document as { map?: Record<string, unknown>; time?: object };
  return column === 'time'
    ? spell({ ...recipe, time: { ...recipe.time, from: field } })
    : spell({ ...recipe, map: { ...recipe.map, [column]: field } });
}

function useTry(text: string, sample: string): { tried: RecipeTried | null; failure: string | null } {
  const [tried, setTried] = useState<RecipeTried | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => {
    const { document } = readDocument(text);
    if (document === undefined) return undefined;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      call(tryRecipe, {
        body: { sample, recipe: document as Record<string, unknown> },
        signal: controller.signal,
      })
        .then((answer) => {
          setTried(answer);
          setFailure(null);
        })
        .catch((error: unknown) => {
          if (!controller.signal.aborted) setFailure(error instanceof Error ? error.message : String(error));
        });
    }, TRY_MILLISECONDS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [text, sample]);
  return { tried, failure };
}

function Workbench({
  source,
  inFull,
  firstSample,
}: {
  source: Source;
  inFull: RecipeInFull;
  firstSample: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const [parameters] = useSearchParams();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const search = beamSearch(parameters);
  const [kept, setKept] = useState(spell(inFull.recipe));
  const [text, setText] = useState(kept);
  const [sample, setSample] = useState(firstSample);
  const [older, setOlder] = useState<number | null>(null);
  const { tried, failure } = useTry(text, sample);
  const file = useRef<HTMLInputElement>(null);
  const { mistake } = readDocument(text);
  const version = inFull.versions[0]?.version ?? 1;
  const changed = text !== kept;
  const save = useMutation({
    mutationFn: () =>
      call(saveRecipe, { body: readDocument(text).document as SentBodyOf<typeof saveRecipe> }),
    onSuccess: async ({ version: made }) => {
      const document = { ...(readDocument(text).document as object), version: made };
      setText(spell(document));
      setKept(spell(document));
      await client.invalidateQueries(about('recipes'));
      await client.invalidateQueries(about('sources'));
    },
  });
  const draft = useMutation({
    mutationFn: () => call(tryRecipe, { body: { sample } }),
    onSuccess: (answer) =>
      setText(spell({ ...answer.recipe, name: source.recipe, title: source.title, version })),
  });
  const mayKeep = person.role === 'admin' && changed && mistake === null && tried?.mistake === null;
  const tryKeep = (): void => {
    if (mayKeep) save.mutate();
  };
  /** A recipe from a file is tried like one that is typed; it is kept under the name of this one. */
  const takeIn = (content: string): void => {
    const { document } = readDocument(content);
    setText(
      typeof document === 'object' && document !== null
        ? spell({ ...document, name: source.recipe, version })
        : content,
    );
  };
  const download = (): void => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
    link.download = `${source.recipe}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <main className="bench bench-recipe">
      <section className="sheet" aria-label="Recipe">
        <div className="sheet-head pb-1">
          <h1 className="sheet-title grow">Recipe of {source.title}</h1>
          <Link className="sm" to={`/sources/${source.name}${search}`}>
            Back
          </Link>
        </div>
        <p className="inset xs soft pb-2">
          <span className="mono">{source.recipe}</span> ·{' '}
          {changed ? `draft of version ${version + 1}` : `version ${version}`}
          {inFull.usedBy.length > 1 && ` · read by ${inFull.usedBy.join(', ')}`}
        </p>
        {older === null ? (
          <DocumentEditor
            language="json"
            label="Text of the recipe"
            text={text}
            mistake={mistake}
            readOnly={person.role === 'reader'}
            onChange={setText}
            onKeep={tryKeep}
          />
        ) : (
          <VersionDiff name={source.recipe} version={older} text={text} onClose={() => setOlder(null)} />
        )}
        <div className="inset ruled py-2" aria-live="polite">
          {mistake !== null && (
            <Note>
              Line {mistake.line}: {mistake.message}
            </Note>
          )}
          {mistake === null && tried?.mistake != null && <Note>{tried.mistake}</Note>}
          {failure !== null && <Note>{failure}</Note>}
          {save.isError && <Note>{save.error.message}</Note>}
          {draft.isError && <Note>{draft.error.message}</Note>}
          <div className="d-flex gap-2 align-items-center">
            {person.role === 'admin' && (
              <Button size="sm" variant="primary" disabled={!mayKeep || save.isPending} onClick={tryKeep}>
                Keep as version {version + 1}
                <kbd>Ctrl S</kbd>
              </Button>
            )}
            {changed && (
              <Button size="sm" variant="outline-secondary" onClick={() => setText(kept)}>
                Take back
              </Button>
            )}
            {save.isSuccess && !changed && <span className="sm">Kept; new records are read by it.</span>}
          </div>
          {save.isSuccess && !changed && <Rereads source={source.name} version={version} zone={beam.zone} />}
        </div>
        <div className="sheet-foot">
          <label className="d-flex gap-1">
            compare with
            <select
              className="xs"
              value={older ?? ''}
              onChange={(event) => setOlder(event.target.value === '' ? null : Number(event.target.value))}
            >
              <option value="">none</option>
              {inFull.versions.map((one) => (
                <option key={one.version} value={one.version}>
                  version {one.version}
                </option>
              ))}
            </select>
          </label>
          <span className="grow" />
          <button type="button" className="link" onClick={() => draft.mutate()}>
            Draft it anew
          </button>
          <button type="button" className="link" onClick={() => file.current?.click()}>
            Import
          </button>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            className="visually-hidden"
            aria-label="File of a recipe"
            tabIndex={-1}
            onChange={(event) => {
              void event.target.files?.[0]?.text().then(takeIn);
              event.target.value = '';
            }}
          />
          <button type="button" className="link" onClick={download}>
            Export
          </button>
        </div>
      </section>
      <section className="sheet" aria-label="Sample">
        <div className="sheet-head pb-1">
          <h2 className="sheet-title grow">Sample</h2>
        </div>
        <p className="inset xs soft pb-1">
          The newest records of the source, those set aside first. Paste others to try them.
        </p>
        <textarea
          className="sample-text mono xs"
          aria-label="Sample records"
          spellCheck={false}
          value={sample}
          onChange={(event) => setSample(event.target.value)}
        />
        <div className="scrolls">
          <CoverageTable
            tried={tried}
            onMap={
              person.role === 'reader' ? null : (column, field) => setText(withMapping(text, column, field))
            }
          />
        </div>
      </section>
      <section className="sheet" aria-label="What becomes of them">
        <div className="sheet-head pb-1">
          <h2 className="sheet-title grow">What becomes of them</h2>
        </div>
        <TriedRecords tried={tried} sample={sample} />
        <div className="sheet-foot">
          <span className="grow">Nothing here is stored.</span>
          <CurlLink
            path="/recipes/try"
            body={{ sample: sample.slice(0, 2000), recipe: readDocument(text).document }}
          />
        </div>
      </section>
    </main>
  );
}

const Note = ({ children }: { children: React.ReactNode }): JSX.Element => (
  <p className="margin-note bad mb-2" role="alert">
    <TextMark mark="bad" />
    <span className="anywhere">{children}</span>
  </p>
);
