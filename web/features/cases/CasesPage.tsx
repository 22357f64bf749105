import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent, type JSX } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { CaseDetail, CaseSummary } from '../../../core/wire/cases.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { usePerson } from '../../api/session.js';
import { huntAround } from '../../beam/around.js';
import { beamSearch } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { count, showTime } from '../../ui/format.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';

const AROUND_MILLISECONDS = 60_000;

/** Where a pin leads. */
function pinAddress({ kind, ref, time }: CaseDetail['pinned'][number], search: string): string {
  switch (kind) {
    case 'alert':
      return `/alerts/${ref}${search}`;
    case 'snapshot':
      return `/snapshot/${ref}${search}`;
    case 'hunt':
      return ref.startsWith('/hunt') ? ref : `/hunt${search}`;
    case 'event': {
      const at = time ?? new Date(0).toISOString();
      return `${huntAround(search, { from: at, to: at }, AROUND_MILLISECONDS, 'from all')}&event=${ref}`;
    }
  }
}

/** Cases: what belongs together, who works on it, and what was made of it. */
export function CasesPage(): JSX.Element {
  const { id } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const search = beamSearch(parameters);
  const mayChange = usePerson().role !== 'reader';
  const list = useQuery({
    queryKey: keys.cases,
    queryFn: () => askJson<{ cases: CaseSummary[] }>('/cases'),
  });
  const cases = list.data?.cases ?? [];
  const open = id === undefined ? cases[0]?.id : Number(id);
  return (
    <main className="bench" style={{ gridTemplateColumns: '520px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Cases">
        <div className="sheet-head">
          <h1 className="page-title grow">Cases</h1>
          <span className="sm soft">
            {list.data !== undefined && `${count(cases.filter(({ state }) => state === 'open').length)} open`}
          </span>
        </div>
        {list.isPending && <Reading title="Fetching the cases" />}
        {list.isError && <Failed title="Cases cannot be shown">{list.error.message}</Failed>}
        {list.data?.cases.length === 0 && (
          <Empty title="No cases yet">
            Pin an alert with C, or an event, a snapshot or a hunt where you read it:{' '}
            <Link to={`/alerts${search}`}>to the alerts</Link>.
          </Empty>
        )}
        <div className="scrolls">
          {cases.length > 0 && (
            <table className="table queue" style={{ tableLayout: 'fixed' }}>
              <thead>
                <tr>
                  <th>case</th>
                  <th style={{ width: 130 }}>owner</th>
                  <th style={{ width: 70 }}>state</th>
                  <th className="num" style={{ width: 60 }}>
                    pins
                  </th>
                </tr>
              </thead>
              <tbody>
                {cases.map((one) => (
                  <tr
                    key={one.id}
                    data-opens
                    className={one.id === open ? 'lit' : ''}
                    onClick={() => void navigate(`/cases/${one.id}${search}`)}
                  >
                    <td>
                      <RowLink to={`/cases/${one.id}${search}`} title={one.title}>
                        {one.title}
                      </RowLink>
                      <span className="queue-subject">
                        changed {showTime(one.updated, 'UTC', 'minute')} UTC
                      </span>
                    </td>
                    <td className="mono cut">{one.owner}</td>
                    <td className={one.state === 'closed' ? 'soft' : ''}>{one.state}</td>
                    <td className="num">{count(one.pins)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <div className="sheet-foot">
          <span className="grow" />
          <CurlLink path="/cases" />
        </div>
      </section>
      {open === undefined ? (
        <section className="sheet" aria-label="Case">
          <Empty title="No case is open">Choose one, or pin something to a new one.</Empty>
        </section>
      ) : (
        <CaseSheet key={open} id={open} mayChange={mayChange} search={search} />
      )}
    </main>
  );
}

function CaseSheet({
  id,
  search,
  mayChange,
}: {
  id: number;
  search: string;
  mayChange: boolean;
}): JSX.Element {
  const client = useQueryClient();
  const [note, setNote] = useState('');
  const found = useQuery({ queryKey: keys.case(id), queryFn: () => askJson<CaseDetail>(`/cases/${id}`) });
  const work = useMutation({
    mutationFn: ({
      method,
      path,
      body,
    }: {
      method: 'POST' | 'PATCH' | 'DELETE';
      path: string;
      body?: unknown;
    }) => askJson<CaseDetail>(`/cases/${id}${path}`, { method, ...(body !== undefined && { body }) }),
    onSuccess: async (detail) => {
      client.setQueryData(keys.case(id), detail);
      await client.invalidateQueries({ queryKey: keys.cases, exact: true });
    },
  });
  if (found.isError)
    return (
      <section className="sheet" aria-label="Case">
        <Failed title="The case cannot be shown">{found.error.message}</Failed>
      </section>
    );
  if (found.data === undefined)
    return (
      <section className="sheet" aria-label="Case">
        <Reading title="Fetching the case" />
      </section>
    );
  const { title, owner, state, pinned, notes, created } = found.data;
  const write = (event: FormEvent): void => {
    event.preventDefault();
    if (note.trim() !== '')
      work.mutate({ method: 'POST', path: '/notes', body: { text: note } }, { onSuccess: () => setNote('') });
  };
  return (
    <section className="sheet" aria-label="Case">
      <div className="sheet-head pb-1" style={{ alignItems: 'center' }}>
        <h2 className="sheet-title grow" style={{ overflowWrap: 'anywhere' }}>
          {title}
        </h2>
        {mayChange && (
          <Button
            variant="outline-secondary"
            onClick={() =>
              work.mutate({
                method: 'PATCH',
                path: '',
                body: { state: state === 'open' ? 'closed' : 'open' },
              })
            }
          >
            {state === 'open' ? 'Close the case' : 'Open it again'}
          </Button>
        )}
      </div>
      <p className="inset sm soft">
        {state}, with <span className="mono">{owner}</span>, since {showTime(created, 'UTC', 'minute')} UTC
      </p>
      {work.isError && <Failed title="That could not be done">{work.error.message}</Failed>}
      <div className="scrolls">
        <div className="sub-head ruled">
          <h3 className="section-head grow">Pinned, by when it happened</h3>
          <span className="xs faint">UTC</span>
        </div>
        {pinned.length === 0 && <p className="inset sm soft">Nothing is pinned.</p>}
        {pinned.map((pin) => (
          <div key={pin.id} className="row-line">
            <span className="mono nowrap">
              {pin.time === null ? '' : showTime(pin.time, 'UTC', 'second')}
            </span>
            <span className="soft">{pin.kind}</span>
            <Link className="cut" style={{ flex: '1 1 0' }} to={pinAddress(pin, search)} title={pin.title}>
              {pin.title}
            </Link>
            <span className="soft nowrap">
              {pin.who}
              {mayChange && (
                <button
                  type="button"
                  className="link ms-2"
                  aria-label={`Take off ${pin.title}`}
                  onClick={() => work.mutate({ method: 'DELETE', path: `/pins/${pin.id}` })}
                >
                  take off
                </button>
              )}
            </span>
          </div>
        ))}
        <div className="sub-head ruled">
          <h3 className="section-head">Notes</h3>
        </div>
        {notes.map(({ id: number, who, at, text }) => (
          <div key={number} className="inset sm pb-2">
            <p className="xs soft mb-0">
              <span className="mono">{who}</span>, {showTime(at, 'UTC', 'minute')} UTC
            </p>
            <p className="mb-0" style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>
              {text}
            </p>
          </div>
        ))}
        {mayChange && (
          <Form className="inset pb-3 d-grid gap-2" onSubmit={write}>
            <Form.Control
              as="textarea"
              rows={3}
              aria-label="A note"
              placeholder="What you found, what you think, what is to be done"
              value={note}
              maxLength={20_000}
              onChange={(event) => setNote(event.target.value)}
            />
            <div>
              <Button type="submit" variant="primary" disabled={note.trim() === '' || work.isPending}>
                Write it down
              </Button>
            </div>
          </Form>
        )}
      </div>
      <div className="sheet-foot">
        <span>
          {count(pinned.length)} pinned, {count(notes.length)} notes
        </span>
        <span className="grow" />
        <CurlLink path={`/cases/${id}`} />
      </div>
    </section>
  );
}
