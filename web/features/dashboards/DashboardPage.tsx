import { type JSX, lazy, Suspense, useEffect, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { DateTime } from 'luxon';
import { BoardInputs } from '../../boards/BoardInputs.js';
import { BoardSheet } from '../../boards/BoardSheet.js';
import { useOpenPicked } from '../../boards/open-picked.js';
import { corrected } from '../../wick/bench-words.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { Key } from '../../ui/Key.js';
import { useKeys } from '../../ui/use-keys.js';
import { counted, showTime } from '../../ui/format.js';
import { answerBoard } from '../../../core/wire/endpoints/boards.js';
import { addressOf } from '../../api/call.js';
import { CurlLink } from '../../kit/Curl.js';
import { type BoardPage, useBoardPage } from './use-board-page.js';

const CardSettings = lazy(async () => ({
  default: (await import('../../boards/CardSettings.js')).CardSettings,
}));
const BoardJson = lazy(async () => ({ default: (await import('../../boards/BoardJson.js')).BoardJson }));
const ShareBoard = lazy(async () => ({ default: (await import('./ShareBoard.js')).ShareBoard }));
const VersionsOfBoard = lazy(async () => ({
  default: (await import('./VersionsOfBoard.js')).VersionsOfBoard,
}));

const SheetsOfBoard = lazy(async () => ({ default: (await import('./SheetsOfBoard.js')).SheetsOfBoard }));

type Open = 'json' | 'share' | 'versions' | 'sheets' | null;

/** One board: looked at, changed, on a wall, printed. */
export function DashboardPage(): JSX.Element {
  const { id = '' } = useParams();
  return <Dashboard key={id} id={id} />;
}

function Dashboard({ id }: { id: string }): JSX.Element {
  const page = useBoardPage(id);
  const { board, stored, parameters, changing, isEditing } = page;
  const [open, setOpen] = useState<Open>(parameters.get('sheets') === '1' ? 'sheets' : null);
  const wall = parameters.get('wall') === '1';
  const { openHunt } = useOpenPicked(page.beam, page.blanks);
  useEffect(() => {
    document.body.classList.toggle('on-wall', wall);
    return () => document.body.classList.remove('on-wall');
  }, [wall]);
  useKeys({
    Escape: () => {
      if (changing !== null) page.openCard(null);
      else if (isEditing) page.leave();
      else if (wall) page.leaveWall();
    },
    r: page.again,
  });
  if (board === null)
    return (
      <main className="bench bench-board">
        <section className="sheet" aria-label="Dashboard">
          {stored.isError ? (
            <Failed title="This board cannot be shown">
              {stored.error.message} <Link to={`/dashboards${page.search}`}>All dashboards</Link>
            </Failed>
          ) : (
            <Reading title="Fetching the board" />
          )}
        </section>
      </main>
    );
  const card = board.cards.find((one) => one.id === changing);
  const mend = (at: string): void => {
    const problem = page.answers.cards.get(at)?.problem ?? null;
    const written = board.cards.find((one) => one.id === at)?.hunt;
    const next = problem === null || typeof written !== 'string' ? null : corrected(written, problem);
    if (next !== null)
      page.put({ ...board, cards: board.cards.map((one) => (one.id === at ? { ...one, hunt: next } : one)) });
    page.edit(at);
  };
  const mayChange = page.mine;
  return (
    <main
      className={`bench bench-board${card === undefined ? '' : ' with-settings'}`}
      aria-busy={page.answers.running}
    >
      <section className="sheet" aria-label="Dashboard">
        <BoardHead page={page} wall={wall} onOpen={setOpen} />
        <div className="scrolls board-scroll">
          {page.answers.problem !== null && (
            <Failed title="The board could not be answered">{page.answers.problem.detail}</Failed>
          )}
          {board.cards.length === 0 ? (
            <Empty title="Nothing is on this board yet">
              {mayChange ? (
                <>
                  <button type="button" className="link" onClick={page.add}>
                    Add a card
                  </button>
                  , or put a hunt on it from Hunt with <i>On a board</i>.
                </>
              ) : (
                'Its owner has put nothing on it.'
              )}
            </Empty>
          ) : (
            <BoardSheet
              board={board}
              answers={page.answers.cards}
              beam={page.beam}
              search={page.search}
              inputs={page.blanks}
              options={page.options}
              changing={changing}
              onChange={isEditing ? page.put : undefined}
              onChangeCard={mayChange && !wall ? (at) => page.edit(at) : undefined}
              onMend={mayChange ? mend : undefined}
              onTakeOff={isEditing ? page.remove : undefined}
            />
          )}
        </div>
        <BoardFoot page={page} onOpen={setOpen} />
      </section>
      {card !== undefined && (
        <Suspense fallback={<section className="sheet" aria-label="Change the card" />}>
          <CardSettings
            board={board}
            card={card}
            before={page.kept?.board.cards.find((one) => one.id === card.id) ?? null}
            placeBefore={page.kept?.board.layout.find((one) => one.card === card.id) ?? null}
            answer={page.answers.cards.get(card.id)}
            help={page.help}
            changes={page.changes}
            isKeeping={page.keep.isPending}
            failure={page.keep.error?.message ?? null}
            onBoard={page.put}
            onKeep={() => page.keep.mutate({ next: board })}
            onUndo={page.undo}
            onClose={page.leave}
            onRemove={() => page.remove(card.id)}
            onHunt={() =>
              openHunt(
                page.answers.cards.get(card.id)?.text || (typeof card.hunt === 'string' ? card.hunt : ''),
                page.answers.cards.get(card.id)?.window ?? null,
              )
            }
            onJson={() => setOpen('json')}
          />
        </Suspense>
      )}
      <Suspense fallback={null}>
        {open === 'json' && (
          <BoardJson
            board={board}
            onTake={
              mayChange
                ? (next) => {
                    page.put(next);
                    page.edit();
                    setOpen(null);
                  }
                : null
            }
            onClose={() => setOpen(null)}
          />
        )}
        {open === 'sheets' && page.kept !== null && (
          <SheetsOfBoard page={page} onClose={() => setOpen(null)} />
        )}
        {open === 'share' && page.kept !== null && <ShareBoard page={page} onClose={() => setOpen(null)} />}
        {open === 'versions' && page.kept !== null && (
          <VersionsOfBoard
            id={id}
            now={page.kept.version}
            zone={page.beam.zone}
            onTake={(next) => {
              page.put(next);
              page.edit();
              setOpen(null);
            }}
            onClose={() => setOpen(null)}
          />
        )}
      </Suspense>
    </main>
  );
}

function BoardHead({
  page,
  wall,
  onOpen,
}: {
  page: BoardPage;
  wall: boolean;
  onOpen: (open: Open) => void;
}): JSX.Element {
  const { board, beam, isEditing, mine } = page;
  if (board === null) return <></>;
  const marked = [...page.answers.cards.values()].flatMap(({ marked: one }) => one);
  const said = [...new Map(marked.map((one) => [`${one.field} ${one.value}`, one])).values()];
  return (
    <header className={`board-head${isEditing ? ' marked' : ''}`}>
      {isEditing ? (
        <Form.Control
          className="board-title-field"
          aria-label="Title of the board"
          maxLength={120}
          value={board.title}
          onChange={(event) => page.put({ ...board, title: event.target.value })}
        />
      ) : (
        <h1 className="page-title cut">{board.title}</h1>
      )}
      <div className="board-actions no-print">
        <BoardInputs asks={page.asks} filled={page.blanks} onFill={page.fill} />
        {!wall && mine && !isEditing && (
          <Button size="sm" variant="outline-secondary" onClick={() => page.edit()}>
            Change
          </Button>
        )}
        {!wall && mine && (
          <Button size="sm" variant="outline-secondary" onClick={page.add}>
            Add a card
          </Button>
        )}
        {!wall && !mine && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => page.keep.mutate({ next: board, shared: 'me' })}
          >
            Make it mine
          </Button>
        )}
        {isEditing && (
          <>
            <Button
              size="sm"
              variant="primary"
              disabled={page.keep.isPending || (page.changes === 0 && !page.isNew)}
              onClick={() => page.keep.mutate({ next: board })}
            >
              Keep
            </Button>
            <Button size="sm" variant="outline-secondary" disabled={page.changes === 0} onClick={page.undo}>
              Undo
            </Button>
            <Button size="sm" variant="outline-secondary" onClick={page.leave}>
              Leave
            </Button>
          </>
        )}
        {!wall && mine && page.kept !== null && !page.isPlaced && (
          <button type="button" className="link sm" onClick={() => onOpen('share')}>
            Share
          </button>
        )}
      </div>
      <p className="xs soft board-said">
        {said.length > 0 ? (
          <>
            Cards that count per {listed(said.map(({ field }) => field))} show every value and mark{' '}
            {said.map(({ value }) => (
              <span key={value} className="mono">
                {value}
              </span>
            ))}
            , which the Beam carries. All others are narrowed to it.
          </>
        ) : (
          (board.about ?? '')
        )}
        <span className="only-print">
          {' '}
          {showTime(beam.window.from, beam.zone, 'second')} to {showTime(beam.window.to, beam.zone, 'second')}{' '}
          {beam.zone}
          {Object.entries(page.blanks).map(([name, value]) => ` · ${name} = ${value}`)} · counted{' '}
          {DateTime.now().setZone(beam.zone).toFormat('d LLL yyyy HH:mm:ss')}
        </span>
      </p>
      {page.keep.isError && page.changing === null && (
        <p className="card-mistake" role="alert">
          {page.keep.error.message}
        </p>
      )}
    </header>
  );
}

const listed = (words: readonly string[]): string => [...new Set(words)].join(' and ');

function BoardFoot({ page, onOpen }: { page: BoardPage; onOpen: (open: Open) => void }): JSX.Element {
  const { answers, isEditing, id, kept, parameters } = page;
  const newest = [...answers.cards.values()]
    .map(({ counted }) => counted)
    .filter((one) => one !== null)
    .sort()
    .at(-1);
  const wall = new URLSearchParams(parameters);
  if (parameters.get('wall') === '1') wall.delete('wall');
  else wall.set('wall', '1');
  return (
    <div className="sheet-foot no-print">
      {isEditing && (
        <>
          <Key keys={['←', '↑', '↓', '→']}>move the card</Key>
          <Key keys={['Shift']}>with them resizes</Key>
        </>
      )}
      {page.mine && <Key keys={['E']}>{isEditing ? 'change another' : 'change a card'}</Key>}
      {!isEditing && (
        <>
          <Key keys={['Enter']}>open its hunt</Key>
          <Key keys={['R']}>count anew</Key>
        </>
      )}
      <span className="grow" />
      {answers.running ? (
        <span>
          Counting{' '}
          <button type="button" className="link" onClick={answers.stop}>
            Stop
          </button>
        </span>
      ) : (
        newest !== undefined && (
          <span>
            Counted {showTime(newest, page.beam.zone, 'second').slice(-8)} ·{' '}
            {counted(answers.done?.cards ?? answers.cards.size, 'card')}
            {(answers.done?.failed ?? 0) > 0 && `, ${answers.done?.failed} failed`}
            {answers.done !== null && ` · ${(answers.done.milliseconds / 1000).toFixed(1)} s`}
          </span>
        )
      )}
      {page.isPlaced && kept !== null && kept.owner !== null && (
        <button type="button" className="link" onClick={page.giveBack}>
          Back to the one that ships
        </button>
      )}
      {kept !== null && kept.version > 1 && (
        <button type="button" className="link" onClick={() => onOpen('versions')}>
          Versions
        </button>
      )}
      {kept !== null && kept.owner !== null && !page.isPlaced && (
        <button type="button" className="link" onClick={() => onOpen('sheets')}>
          Sheets
        </button>
      )}
      <button type="button" className="link" onClick={() => onOpen('json')}>
        As JSON
      </button>
      <CurlLink
        path={addressOf(answerBoard, { body: { board: '', window: page.beam.window } })}
        body={{
          board: page.draft === null && !page.isNew ? id : page.board,
          window: page.beam.last === null ? page.beam.window : { last: page.beam.last },
          zone: page.beam.zone,
          carried: page.beam.carried,
          inputs: page.blanks,
        }}
      />
      <Link to={`/dashboards/${id}?${wall.toString()}`}>
        {parameters.get('wall') === '1' ? 'Off the wall' : 'On the wall'}
      </Link>
      <button type="button" className="link" onClick={() => window.print()}>
        Print
      </button>
    </div>
  );
}
