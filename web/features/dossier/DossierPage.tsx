import { useQuery } from '@tanstack/react-query';
import { type JSX, lazy, Suspense, useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { dossierBoards, subjectBoards } from '../../../core/boards/subjects/index.js';
import { lanesHunt, markMinutes } from '../../../core/boards/subjects/subject-board.js';
import { isSubjectKind, namedBy, type SubjectKind } from '../../../core/subjects/kinds.js';
import { quoteText } from '../../../core/wick/spell.js';
import type { Dossier } from '../../../core/wire/dossiers.js';
import { readDossier } from '../../../core/wire/endpoints/dossiers.js';
import { addressOf, answerTo } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { type Beam, type BeamChange, beamSearch, useBeam, writeBeam } from '../../beam/beam.js';
import { BoardSheet } from '../../boards/BoardSheet.js';
import { useBoardAnswers } from '../../boards/use-board-answers.js';
import { CurlLink } from '../../kit/Curl.js';
import { dossierAddress } from '../../results/dossier-address.js';
import { showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { StartRunbook } from '../../runbooks/RunsPart.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import type { Brush } from '../../ui/use-brush.js';
import { useKeys } from '../../ui/use-keys.js';
import { useHuntOptions } from '../../wick/use-hunt-options.js';
import { ToldJourneys, toldJourneys } from '../../results/pictures/told-journeys.js';
import { Lanes } from './Lanes.js';
import { useBelow } from './use-below.js';
import { subjectState } from './subject-cards.js';
import { Words } from '../../results/Words.js';

const Names = lazy(async () => ({ default: (await import('./Names.js')).Names }));
const RaiseAlert = lazy(async () => ({ default: (await import('../../cases/RaiseAlert.js')).RaiseAlert }));
const PinToCase = lazy(async () => ({ default: (await import('../../cases/PinToCase.js')).PinToCase }));

/** Blocks that are named in the foot; the others are counted. */
const MAX_NAMED = 2;

/** What lies below the cut, each a way there. */
function Below({ names }: { readonly names: readonly string[] }): JSX.Element | null {
  if (names.length === 0) return null;
  const go = (name: string): void =>
    [...document.querySelectorAll<HTMLElement>('.dossier .board-card')]
      .find((card) => card.getAttribute('aria-label') === name)
      ?.focus();
  return (
    <span className="cut below-the-cut">
      ↓ Below:{' '}
      {names.slice(0, MAX_NAMED).map((name, i) => (
        <span key={name}>
          {i > 0 && ', '}
          <button type="button" className="link" onClick={() => go(name)}>
            {name}
          </button>
        </span>
      ))}
      {names.length > MAX_NAMED && ` and ${names.length - MAX_NAMED} more`}
    </span>
  );
}

/** Everything about one subject in the Beam. */
export function DossierPage(): JSX.Element {
  const { kind = '', name = '' } = useParams();
  if (!isSubjectKind(kind))
    return (
      <main className="bench">
        <section className="sheet" aria-label="Dossier">
          <Failed title="There is no such dossier">
            “{kind}” is no kind of subject. <Link to="/desk">Go to the Desk</Link>
          </Failed>
        </section>
      </main>
    );
  return <SubjectDossier key={`${kind} ${name}`} kind={kind} name={name} />;
}

const iso = (time: number): string => new Date(time).toISOString();

function SubjectDossier({ kind, name }: { kind: SubjectKind; name: string }): JSX.Element {
  const navigate = useNavigate();
  const person = usePerson();
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam: whole, change } = useBeam(at);
  const [brush, setBrushed] = useState<Brush | null>(null);
  const [narrowed, setNarrowed] = useState(false);
  const setBrush = (next: Brush | null): void => {
    setBrushed(next);
    if (next === null) setNarrowed(false);
  };
  const [open, setOpen] = useState<'names' | 'case' | 'runbook' | 'raise' | null>(null);
  const of = subjectBoards[kind];

  // Whom the page is about is said already: what the Beam carries of such names would only empty it.
  const beam = useMemo((): Beam => {
    const own = new Set<string>(namedBy[kind].names);
    return {
      ...whole,
      carried: whole.carried.filter((one) => !own.has(/^(\w+)\b/.exec(one)?.[1] ?? '')),
    };
  }, [whole, kind]);
  const inBlocks = useMemo(
    (): Beam =>
      brush === null || !narrowed
        ? beam
        : { ...beam, last: null, window: { from: iso(brush.from), to: iso(brush.to) } },
    [beam, brush, narrowed],
  );
  const { from, to } = inBlocks.window;
  const asked = {
    params: { kind, name },
    query: { from, to, zone: beam.zone, carried: JSON.stringify(beam.carried) },
  };
  const dossier = useQuery({
    ...answerTo(readDossier, asked),
    placeholderData: (before) => (before?.subject.name === name ? before : undefined),
    staleTime: 30_000,
  });
  const { data } = dossier;
  const inputs = useMemo(() => ({ subject: name }), [name]);
  const lanes = useMemo(() => {
    const window = { from: Date.parse(beam.window.from) * 1000, to: Date.parse(beam.window.to) * 1000 };
    return {
      title: 'What happened',
      cards: [
        {
          id: 'lanes',
          title: 'What happened',
          hunt: lanesHunt(of, markMinutes(window)),
          picture: { kind: 'stacked' as const },
        },
      ],
      layout: [{ card: 'lanes', x: 0, y: 0, w: 12, h: 6 }],
    };
  }, [of, beam.window.from, beam.window.to]);
  const lanesAnswer = useBoardAnswers(lanes, null, beam, inputs, at, false);
  const board = data?.board ?? dossierBoards[`dossier-${kind}`] ?? null;
  const answers = useBoardAnswers(board, `dossier-${kind}`, inBlocks, inputs, at);
  const help = useHuntOptions(inBlocks);
  const options = useMemo(
    () => ({ ...help.options, parameters: inputs, writing: true }),
    [help.options, inputs],
  );

  const huntAt = (hunt: string): string => {
    const query = new URLSearchParams(search);
    query.set('q', hunt);
    return `/hunt?${query.toString()}`;
  };
  const everything = huntAt(`from all\nwhere about ${kind} ${quoteText(name)}`);
  const mayChange = person.role !== 'reader';
  // What is done about somebody is asked for, and approved, on an alert about them.
  const waitingAlerts = data?.alerts.filter(({ state }) => state !== 'settled') ?? [];
  const respond = (): void => {
    const [first] = waitingAlerts;
    if (first === undefined) setOpen('raise');
    else void navigate(`/alerts/${first.id}${search}`);
  };
  const walk = (by: number) => () => {
    const cards = [...document.querySelectorAll<HTMLElement>('.dossier .board-card')];
    const now = cards.findIndex((one) => one.contains(document.activeElement));
    cards[(now + by + cards.length) % cards.length]?.focus();
  };
  useKeys({
    e: () => void navigate(everything),
    '[': walk(-1),
    ']': walk(1),
    ...(mayChange && { c: () => setOpen('case') }),
    ...(mayChange && waitingAlerts.length > 0 && { b: () => setOpen('runbook') }),
    ...(mayChange && data?.known != null && { r: respond }),
    Escape: () => (brush !== null ? setBrush(null) : void navigate(-1)),
  });
  const moveBeam = (): void => {
    if (brush === null) return;
    setBrush(null);
    change({ from: iso(brush.from), to: iso(brush.to) } satisfies BeamChange);
  };
  const travelled = answers.cards.get('journeys');
  const journeys = useMemo(
    () => (travelled === undefined ? [] : toldJourneys(travelled.columns, travelled.rows)),
    [travelled],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const below = useBelow(scroller, answers.cards);
  const newest = [...answers.cards.values()]
    .flatMap(({ counted }) => counted ?? [])
    .sort()
    .at(-1);
  return (
    <main className="bench bench-board" aria-busy={dossier.isFetching || answers.running}>
      <section className="sheet dossier" aria-label={`Dossier of ${name}`}>
        <div className="scrolls board-scroll" ref={scroller}>
          <header className="who">
            <div className="who-id">
              <h1 className="mono cut" title={name}>
                {data?.subject.name ?? name}
              </h1>
              <Facts dossier={data} kind={kind} search={search} onNames={() => setOpen('names')} />
              <div className="who-acts">
                <Button size="sm" variant="primary" onClick={() => void navigate(everything)}>
                  Hunt everything <kbd>E</kbd>
                </Button>
                {mayChange && (
                  <Button size="sm" variant="outline-secondary" onClick={() => setOpen('case')}>
                    Into a case <kbd>C</kbd>
                  </Button>
                )}
                {mayChange && data?.known != null && (
                  <Button size="sm" variant="outline-secondary" onClick={respond}>
                    Respond <kbd>R</kbd>
                  </Button>
                )}
                {mayChange && waitingAlerts.length > 0 && (
                  <Button size="sm" variant="outline-secondary" onClick={() => setOpen('runbook')}>
                    Runbook <kbd>B</kbd>
                  </Button>
                )}
              </div>
            </div>
            {dossier.isError && <Failed title="The dossier cannot be shown">{dossier.error.message}</Failed>}
            {dossier.isPending && <Reading title="Gathering the dossier" />}
            {data !== undefined && (
              <>
                <p className="lede">
                  <Words words={data.sentence} />
                </p>
                <p className="sm soft">
                  <Words words={data.normal} first />
                </p>
              </>
            )}
          </header>
          {data?.known === null ? (
            <Empty title={`No ${kind} of this name was seen`}>
              Look whether it is spelled as the sources spell it, take a longer time in the Beam, or find it
              with Ctrl K.
            </Empty>
          ) : (
            <Lanes
              of={of}
              answer={lanesAnswer.cards.get('lanes')}
              window={beam.window}
              zone={beam.zone}
              usual={data?.usual ?? []}
              alerts={data?.alerts ?? []}
              brush={brush}
              onBrush={setBrush}
              narrowed={narrowed}
              onNarrow={setNarrowed}
              onMoveBeam={moveBeam}
            />
          )}
          {board !== null && data?.known !== null && (
            <ToldJourneys value={journeys}>
              <BoardSheet
                board={board}
                answers={answers.cards}
                beam={inBlocks}
                search={search}
                inputs={inputs}
                options={options}
                changing={null}
                stacked
                drawState={(card) =>
                  data === undefined
                    ? null
                    : subjectState(card, { dossier: data, zone: beam.zone, search, huntAt })
                }
              />
            </ToldJourneys>
          )}
        </div>
        <div className="sheet-foot no-print">
          <Key keys={['[', ']']}>block before, after</Key>
          <Key keys={['Enter']}>hunt the figure</Key>
          <Key keys={['Esc']}>back</Key>
          <span className="grow" />
          <Below names={below} />
          <span>
            {narrowed && brush !== null && 'Only what is brushed. '}
            {newest !== undefined && `Counted ${showTime(newest, beam.zone, 'second').slice(-8)}, `}every
            figure opens as a hunt
          </span>
          <Link to={`/dashboards/dossier-${kind}${withSubject(search, name)}`}>Change these cards</Link>
          <CurlLink path={addressOf(readDossier, asked)} />
        </div>
      </section>
      <Suspense fallback={null}>
        {open === 'names' && data !== undefined && (
          <Names dossier={data} zone={beam.zone} mayChange={mayChange} onClose={() => setOpen(null)} />
        )}
        {open === 'runbook' && (
          <StartRunbook on={waitingAlerts} search={search} onClose={() => setOpen(null)} />
        )}
        {open === 'raise' && (
          <RaiseAlert
            subjects={[{ kind, name: data?.subject.name ?? name }]}
            suggested=""
            level="medium"
            window={inBlocks.window}
            search={search}
            onClose={() => setOpen(null)}
          />
        )}
        {open === 'case' && (
          <PinToCase
            pins={[
              {
                kind: 'hunt',
                ref: `/hunt?${writeBeam(new URLSearchParams({ q: `from all\nwhere about ${kind} ${quoteText(name)}` }), beam.window).toString()}`,
                title: `Everything of ${kind} ${name}`,
              },
            ]}
            suggested={`About ${name}`}
            search={search}
            onClose={() => setOpen(null)}
          />
        )}
      </Suspense>
    </main>
  );
}

const withSubject = (search: string, name: string): string => {
  const query = new URLSearchParams(search);
  query.set('p.subject', name);
  return `?${query.toString()}`;
};

/** What lists say, in the order people read it; the rest stands in the title. */
const PLAIN = [
  'name',
  'title',
  'role',
  'kind',
  'department',
  'harbour',
  'what',
  'meaning',
  'city',
  'country',
  'as_name',
];

/** Plain facts, and everything it is also called. */
function Facts({
  dossier,
  kind,
  search,
  onNames,
}: {
  readonly dossier: Dossier | undefined;
  readonly kind: SubjectKind;
  readonly search: string;
  readonly onNames: () => void;
}): JSX.Element {
  if (dossier === undefined) return <div className="who-facts" />;
  const { facts, names, told, looksLike } = dossier;
  const of = (column: string): string | undefined => facts.find((one) => one.column === column)?.value;
  const plain = PLAIN.flatMap((column) => of(column) ?? []).filter((one, i, all) => all.indexOf(one) === i);
  const head = of('manager') === undefined ? 'owner' : 'manager';
  const manager = of(head);
  const left = of('left_on');
  const also = [...new Map(names.map((one) => [one.value, one])).values()];
  return (
    <div className="who-facts">
      <p>
        {plain.length > 0 ? plain.join(', ') : kind}
        {of('privileged') === 'true' && <b>, privileged</b>}
        {manager !== undefined && (
          <>
            {' '}
            · {head} <Link to={dossierAddress('user', manager, search)}>{manager}</Link>
          </>
        )}
        {left !== undefined && <b className="problem"> · left on {left}</b>}
      </p>
      <p className="xs soft">
        {also.length > 0 && 'also '}
        {also.slice(0, 3).map(({ value, by, where, from, to }, i) => (
          <span key={value}>
            {i > 0 && ' · '}
            <span className="mono">{value}</span>{' '}
            {by === 'list'
              ? `in ${where.split(',')[0]}`
              : from === null
                ? ''
                : `until ${(to ?? '').slice(0, 10)}`}
          </span>
        ))}
        {also.length > 3 && ` and ${also.length - 3} more`}
        {looksLike.length > 0 && (
          <>
            {also.length > 0 && ' · '}
            <b>looks like </b>
            <Link className="mono" to={dossierAddress(kind, looksLike[0]?.name ?? '', search)}>
              {looksLike[0]?.name}
            </Link>
          </>
        )}
        {told.length > 0 && ` · ${told.length} near, not joined`}{' '}
        <button type="button" className="link xs" onClick={onNames}>
          Names
        </button>
      </p>
    </div>
  );
}
