import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import { type JSX, useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import { refreshOf, USUAL_REFRESH } from '../../../core/boards/board.js';
import { readBoard, removeBoard } from '../../../core/wire/endpoints/boards.js';
import { listSources } from '../../../core/wire/endpoints/sources.js';
import { about, answerTo, call } from '../../api/call.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { boardAsks, BoardInputs } from '../../boards/BoardInputs.js';
import { BoardSheet } from '../../boards/BoardSheet.js';
import { useBoardAnswers } from '../../boards/use-board-answers.js';
import { useOwnRefresh } from '../../boards/use-own-refresh.js';
import { Key } from '../../ui/Key.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { showTime } from '../../ui/format.js';
import { useKeys } from '../../ui/use-keys.js';
import { readHuntAddress, writeHuntAddress } from '../../results/hunt-address.js';
import { useHuntOptions } from '../../wick/use-hunt-options.js';
import { LedeLine } from './LedeLine.js';

/** The landing overview. */
export function DeskPage(): JSX.Element {
  const [parameters, setParameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at, again } = useAsked();
  const { beam } = useBeam(at);
  const client = useQueryClient();
  const stored = useQuery({ ...answerTo(readBoard, { params: { id: 'desk' } }), staleTime: 60_000 });
  const sources = useQuery(answerTo(listSources));
  const board = stored.data?.board ?? null;
  const blanks = useMemo(() => readHuntAddress(parameters).blanks, [parameters]);
  const isEmpty = sources.data !== undefined && sources.data.sources.every(({ stored: many }) => many === 0);
  const answers = useBoardAnswers(isEmpty ? null : board, 'desk', beam, blanks, at);
  const help = useHuntOptions(beam);
  const options = useMemo(
    () => ({ ...help.options, parameters: blanks, writing: true }),
    [help.options, blanks],
  );
  const giveBack = useMutation({
    mutationFn: () => call(removeBoard, { params: { id: 'desk' } }),
    onSuccess: () => void client.invalidateQueries(about('boards')),
  });
  const refresh = (board === null ? USUAL_REFRESH : refreshOf(board)) * 1000;
  const follows = beam.last !== null;
  useOwnRefresh(follows, refresh, answers.isAsking, again);
  useKeys({
    r: () => {
      answers.beFresh(again());
    },
  });
  const newest = [...answers.cards.values()]
    .flatMap(({ counted }) => counted ?? [])
    .sort()
    .at(-1);
  const asks = boardAsks(board);
  return (
    <main className="bench bench-board" aria-busy={answers.running}>
      <section className="sheet desk" aria-label="Desk">
        <header className="desk-head">
          <h1 className="page-title nowrap">
            {DateTime.fromISO(beam.window.to, { zone: beam.zone })
              .minus({ milliseconds: 1 })
              .toFormat('cccc, d LLLL')}
          </h1>
          {isEmpty ? (
            <p className="lede">Nothing has come in yet.</p>
          ) : (
            <LedeLine beam={beam} search={search} />
          )}
          {!isEmpty && (
            <BoardInputs
              asks={asks}
              filled={blanks}
              onFill={(filled) =>
                setParameters((before) => writeHuntAddress(before, { blanks: filled }), { replace: true })
              }
            />
          )}
        </header>
        <div className="scrolls board-scroll">
          {stored.isError && <Failed title="The Desk cannot be shown">{stored.error.message}</Failed>}
          {stored.isPending && <Reading title="Fetching the Desk" />}
          {isEmpty && (
            <Empty title="No source sends anything yet">
              Name a source and give it the key it shows you: <Link to={`/sources${search}`}>Sources</Link>.
              Everything here is counted from what sources send.
            </Empty>
          )}
          {answers.problem !== null && (
            <Failed title="The Desk could not be answered">{answers.problem.detail}</Failed>
          )}
          {board !== null && !isEmpty && (
            <BoardSheet
              board={board}
              answers={answers.cards}
              beam={beam}
              search={search}
              inputs={blanks}
              options={options}
              changing={null}
            />
          )}
        </div>
        <div className="sheet-foot no-print">
          <Key keys={['G']}>then the first letter goes to a place</Key>
          <Key keys={['B']}>in a menu: into the Beam</Key>
          <Key keys={['?']}>all keys</Key>
          <span className="grow" />
          <span>
            {newest !== undefined && `Counted ${showTime(newest, beam.zone, 'second').slice(-8)}, `}every
            figure opens as a hunt
          </span>
          <Link to={`/dashboards/desk${search}`}>Change the Desk</Link>
          {stored.data !== undefined && stored.data.owner !== null && (
            <button type="button" className="link" onClick={() => giveBack.mutate()}>
              Back to the one that ships
            </button>
          )}
        </div>
      </section>
    </main>
  );
}
