import { useQuery } from '@tanstack/react-query';
import { type JSX, useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { readSnapshot } from '../../../../core/wire/endpoints/snapshots.js';
import { answerTo } from '../../../api/call.js';
import type { HuntRow } from '../../../api/hunt-stream.js';
import { usePerson } from '../../../api/session.js';
import { useAsked } from '../../../beam/asked.js';
import { beamSearch, useBeam } from '../../../beam/beam.js';
import { OnABoard } from '../../../boards/OnABoard.js';
import { PinToCase } from '../../../cases/PinToCase.js';
import { CurlLink } from '../../../kit/Curl.js';
import { count, counted, showTime } from '../../../ui/format.js';
import { Failed, Reading } from '../../../ui/State.js';
import { firstColumns } from '../../../results/cells.js';
import { addressOfQuestion, writeHuntAddress } from '../../../results/hunt-address.js';
import { ResultGrid } from '../../../results/ResultGrid.js';

/** A result as it was when it was asked for. */
export function SnapshotPage(): JSX.Element {
  const id = Number(useParams()['id']);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const snapshot = useQuery({ ...answerTo(readSnapshot, { params: { id } }), staleTime: Infinity });
  const [pinning, setPinning] = useState(false);
  const mayPin = usePerson().role !== 'reader';
  const { data } = snapshot;
  const shown = useMemo(
    () =>
      data === undefined ? new Set<string>() : firstColumns(data.columns, data.rows as readonly HuntRow[]),
    [data],
  );
  if (data === undefined)
    return (
      <main className="bench">
        <section className="sheet" aria-label="Snapshot">
          {snapshot.isPending && <Reading title="Fetching the snapshot" />}
          {snapshot.isError && <Failed title="The snapshot cannot be shown">{snapshot.error.message}</Failed>}
        </section>
      </main>
    );
  const again = addressOfQuestion(parameters, data.question);
  const { from, to } = data.question.window;
  return (
    <main className="bench bench-hunt">
      <section className="sheet" aria-label="About the snapshot">
        <div className="sheet-head">
          <h1 className="sheet-title grow anywhere">{data.name}</h1>
          <OnABoard hunt={data.question.text} title={data.name} className="link sm nowrap" />
        </div>
        <div className="scrolls">
          <dl className="facts inset">
            <dt>Asked</dt>
            <dd>
              <span className="mono">{showTime(data.asked, beam.zone, 'log')}</span> {beam.zone}, by{' '}
              <span className="mono">{data.owner}</span>
            </dd>
            <dt>Window</dt>
            <dd className="mono">
              {showTime(from, beam.zone, 'minute')} – {showTime(to, beam.zone, 'minute')}
            </dd>
            <dt>Rows</dt>
            <dd>
              {count(data.count)}
              {data.complete ? ', all there were' : ', the first; there were more'}
            </dd>
            {(data.question.carried ?? []).map((condition) => (
              <div key={condition} className="contents">
                <dt>Carried</dt>
                <dd className="mono anywhere">{condition}</dd>
              </div>
            ))}
          </dl>
          <pre className="inset curl-text">{data.question.text}</pre>
          <p className="inset pt-2">
            <Link to={`/hunt?${again}`}>Ask the same now</Link>
          </p>
        </div>
      </section>
      <section className="sheet" aria-label="Rows as they were">
        <div className="sheet-head pb-1">
          <p className="grow cut mb-0">
            <span className="sheet-title">{counted(data.count, 'row')}</span>{' '}
            <span className="soft">as they were on {showTime(data.asked, beam.zone, 'minute')}</span>
          </p>
        </div>
        <ResultGrid
          columns={data.columns}
          rows={data.rows as readonly HuntRow[]}
          events={data.events}
          shown={shown}
          zone={beam.zone}
          readId={null}
          inside={null}
          live={[]}
          onOver={() => undefined}
          onPick={() => undefined}
          onRead={(event) => void navigate(`/hunt?${writeHuntAddress(again, { readId: event.id })}`)}
        />
        <div className="sheet-foot">
          <span className="grow" />
          {mayPin && (
            <button type="button" className="link" onClick={() => setPinning(true)}>
              Into a case
            </button>
          )}
          <span>
            Export{' '}
            <a href={`/api/v1/snapshots/${id}/export?format=csv`} download>
              CSV
            </a>{' '}
            <a href={`/api/v1/snapshots/${id}/export?format=jsonl`} download>
              JSON lines
            </a>
          </span>
          <CurlLink path={`/snapshots/${id}`} />
        </div>
      </section>
      {pinning && (
        <PinToCase
          pins={[{ kind: 'snapshot', ref: String(id), title: data.name, time: data.asked }]}
          suggested={data.name}
          search={beamSearch(parameters)}
          onClose={() => setPinning(false)}
        />
      )}
    </main>
  );
}
