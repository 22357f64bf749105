import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, type JSX, type KeyboardEvent, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { WorkState } from '../../core/boards/board.js';
import { countWaitingAlerts } from '../../core/wire/endpoints/alerts.js';
import { listCases } from '../../core/wire/endpoints/cases.js';
import { listRules } from '../../core/wire/endpoints/rules.js';
import { listSources } from '../../core/wire/endpoints/sources.js';
import { readCoverage } from '../../core/wire/endpoints/tuning.js';
import { answerTo } from '../api/call.js';
import { usePerson } from '../api/session.js';
import { Severity, SourceGlyph } from '../ui/Glyphs.js';
import { ago, count, roughly } from '../ui/format.js';
import { useAsked } from '../beam/asked.js';
import { coverageWords, TechniqueMap } from './TechniqueMap.js';

/** How a card stands on a board that is being changed: its grip, and the ways to move it and take it off. */
interface PlacedCard {
  readonly grip?: ReactNode;
  readonly onTakeOff?: (() => void) | undefined;
  readonly onKeyDown?: ((event: KeyboardEvent<HTMLElement>) => void) | undefined;
}

const Placing = createContext<PlacedCard>({});

interface WorkCardProps {
  readonly title: string;
  /** The part of the address that carries the Beam. */
  readonly search: string;
}

const MAX_SHOWN = 5;
const MAX_RULES = 20;

function WorkCard({
  title,
  to,
  all,
  children,
}: {
  title: string;
  /** Where all of it is, and what that is called. */
  to?: string;
  all?: string;
  children: ReactNode;
}): JSX.Element {
  const { grip, onTakeOff, onKeyDown } = useContext(Placing);
  return (
    <article className="board-card" aria-label={title} tabIndex={0} {...(onKeyDown && { onKeyDown })}>
      <div className="card-top">
        {grip}
        <h2 className="section-head cut">{title}</h2>
        {onTakeOff === undefined ? (
          to !== undefined && (
            <Link className="card-state sm" to={to}>
              {all}
            </Link>
          )
        ) : (
          <button
            type="button"
            className="link xs"
            aria-label={`Take ${title} off the board`}
            onClick={onTakeOff}
          >
            Take off
          </button>
        )}
      </div>
      <div className="card-body card-scroll">{children}</div>
    </article>
  );
}

/** Alerts that wait, by level, with the oldest of each. */
function AlertsCard({ title, search }: WorkCardProps): JSX.Element {
  const { at } = useAsked();
  const waiting = useQuery(answerTo(countWaitingAlerts));
  return (
    <WorkCard title={title} to={`/alerts${search}`} all="Open the queue">
      {waiting.isError && <p className="sm soft">{waiting.error.message}</p>}
      {waiting.data?.levels.every((one) => one.waiting === 0) === true && (
        <p className="sm soft">No alert waits.</p>
      )}
      <ul className="work-lines">
        {(waiting.data?.levels ?? []).map(({ level, waiting: many, oldest }) => (
          <li key={level}>
            <Severity level={level} />
            <Link className="num many" to={`/alerts${withWord(search, 'level', level)}`}>
              {count(many)}
            </Link>
            <span className="xs soft">{oldest === null ? '' : `oldest ${ago(oldest, at)}`}</span>
          </li>
        ))}
      </ul>
    </WorkCard>
  );
}

const withWord = (search: string, name: string, value: string): string => {
  const next = new URLSearchParams(search);
  next.set(name, value);
  return `?${next.toString()}`;
};

/** Open cases of whoever looks. */
function CasesCard({ title, search }: WorkCardProps): JSX.Element {
  const { at } = useAsked();
  const { name } = usePerson();
  const cases = useQuery(answerTo(listCases, { query: { limit: 200 } }));
  const own = (cases.data?.cases ?? []).filter(({ owner, state }) => owner === name && state === 'open');
  return (
    <WorkCard title={title} to={`/cases${search}`} all="All cases">
      {cases.isError && <p className="sm soft">{cases.error.message}</p>}
      {cases.isSuccess && own.length === 0 && (
        <p className="sm soft">
          None is open in your name. A case begins with C on an alert, or with Pin to a case on a hunt.
        </p>
      )}
      <ul className="entries">
        {own.slice(0, MAX_SHOWN).map(({ id, title: called, pins, updated }) => (
          <li key={id}>
            <Link to={`/cases/${id}${search}`}>
              <span className="mono">{id}</span> {called}
            </Link>
            <span className="xs soft d-block">
              {count(pins)} pinned · changed {ago(updated, at)} ago
            </span>
          </li>
        ))}
      </ul>
    </WorkCard>
  );
}

/** Rules by what they matched in the last seven days, with their alerts that wait. */
function RulesCard({ title, search }: WorkCardProps): JSX.Element {
  const rules = useQuery(answerTo(listRules));
  const loud = [...(rules.data?.rules ?? [])]
    .filter(({ recent }) => recent > 0)
    .sort((a, b) => b.recent - a.recent)
    .slice(0, MAX_RULES);
  const most = Math.max(1, ...loud.map(({ recent }) => recent));
  return (
    <WorkCard title={title} to={`/tuning${search}`} all="Tuning bench">
      {rules.isError && <p className="sm soft">{rules.error.message}</p>}
      {rules.isSuccess && loud.length === 0 && <p className="sm soft">No rule matched anything this week.</p>}
      <ul className="bar-lines">
        {loud.map(({ id, title: called, recent, alerts }) => (
          <li key={id}>
            <span className="pair-line">
              <Link className="cut" to={`/rules/${id}${search}`}>
                {called}
              </Link>
              <span className="nowrap sm">
                {count(recent)} <span className="soft">matches, {count(alerts)} alerts wait</span>
              </span>
            </span>
            <i style={{ width: `${(recent / most) * 100}%` }} />
          </li>
        ))}
      </ul>
    </WorkCard>
  );
}

/** Sources that send nothing, or late. */
function SourcesCard({ title, search }: WorkCardProps): JSX.Element {
  const sources = useQuery(answerTo(listSources));
  const odd = (sources.data?.sources ?? []).filter(({ state }) => state === 'quiet' || state === 'late');
  const flowing = (sources.data?.sources ?? []).filter(({ state }) => state === 'flowing').length;
  return (
    <WorkCard title={title} to={`/sources${search}`} all="All sources">
      {sources.isError && <p className="sm soft">{sources.error.message}</p>}
      {sources.isSuccess && odd.length === 0 && (
        <p className="sm soft">
          {flowing === 0 ? 'No source sends anything yet.' : `None: ${count(flowing)} flow.`}
        </p>
      )}
      <ul className="entries">
        {odd.slice(0, MAX_SHOWN).map(({ name, title: called, state, silentSeconds, usualSeconds, lag }) => (
          <li key={name}>
            <span className="pair-line">
              <span className="cut">
                <SourceGlyph state={state} /> <Link to={`/sources/${name}${search}`}>{called || name}</Link>
              </span>
              <span className="nowrap">
                {state === 'quiet' ? roughly(silentSeconds ?? 0) : `${roughly(lag?.median ?? 0)} late`}
              </span>
            </span>
            <span className="xs soft d-block">
              {usualSeconds === null
                ? 'not known yet how often it sends'
                : `usually ${usualSeconds <= 60 ? `${count(60 / Math.max(1, usualSeconds))} a minute` : `one every ${roughly(usualSeconds)}`}`}
            </span>
          </li>
        ))}
      </ul>
    </WorkCard>
  );
}

/** Records that could not be read and wait. */
function SetAsideCard({ title, search }: WorkCardProps): JSX.Element {
  const sources = useQuery(answerTo(listSources));
  const holding = (sources.data?.sources ?? []).filter(({ setAside }) => setAside > 0);
  const total = holding.reduce((sum, { setAside }) => sum + setAside, 0);
  return (
    <WorkCard title={title} to={`/sources${search}`} all="All sources">
      {sources.isSuccess && total === 0 && <p className="sm soft">None: every record could be read.</p>}
      {total > 0 && (
        <p className="sm mb-1">
          {count(total)} of {holding.length === 1 ? 'one source' : `${holding.length} sources`}:{' '}
          {holding.slice(0, 3).map(({ name, setAside }, i) => (
            <span key={name}>
              {i > 0 && ', '}
              <Link to={`/sources/${name}${search}`} className="mono">
                {name}
              </Link>{' '}
              {count(setAside)}
            </span>
          ))}
        </p>
      )}
    </WorkCard>
  );
}

/** Techniques by tactic, and whether a rule looks for each. */
function CoverageCard({ title, search }: WorkCardProps): JSX.Element {
  const covered = useQuery(answerTo(readCoverage));
  return (
    <WorkCard title={title} to={`/coverage${search}`} all="All of it">
      {covered.data !== undefined && (
        <>
          <p className="sm soft mb-1">{coverageWords(covered.data)}</p>
          <TechniqueMap
            coverage={covered.data}
            addressOf={(tactic, technique) =>
              `/coverage${search === '' ? '?' : `${search}&`}${new URLSearchParams({ tactic, technique }).toString()}`
            }
          />
        </>
      )}
    </WorkCard>
  );
}

const cards: Readonly<Partial<Record<WorkState, (props: WorkCardProps) => JSX.Element>>> = {
  alerts: AlertsCard,
  cases: CasesCard,
  rules: RulesCard,
  sources: SourcesCard,
  'set-aside': SetAsideCard,
  coverage: CoverageCard,
};

/** A state of the workbench as a card; what tells of a subject is given by its dossier. */
export function WorkStateCard({
  shows,
  title,
  search,
  children,
  ...placed
}: WorkCardProps & PlacedCard & { readonly shows: WorkState; readonly children?: ReactNode }): JSX.Element {
  const Shown = cards[shows];
  return (
    <Placing value={placed}>
      {children != null ? (
        <WorkCard title={title}>{children}</WorkCard>
      ) : Shown === undefined ? (
        <WorkCard title={title}>
          <p className="sm soft">It tells of one subject, and stands on dossiers.</p>
        </WorkCard>
      ) : (
        <Shown title={title} search={search} />
      )}
    </Placing>
  );
}
