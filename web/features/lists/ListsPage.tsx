import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { ListSummary } from '../../../core/wire/lists.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { count, showTime } from '../../ui/format.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { ImportRows } from './ImportRows.js';
import { ListSheet } from './ListSheet.js';

const matchWords = { exact: 'exact', network: 'network', wildcard: 'wildcard' } as const;

/** Keyed reference data: what hunts, rules and recipes look values up in. */
export function ListsPage(): JSX.Element {
  const { list: name } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const search = beamSearch(parameters);
  const lists = useQuery({
    queryKey: keys.lists,
    queryFn: () => askJson<{ lists: ListSummary[] }>('/lists'),
  });
  const all = lists.data?.lists ?? [];
  const open = all.find((list) => list.name === name) ?? (name === undefined ? all[0] : undefined);
  return (
    <main className="bench" style={{ gridTemplateColumns: '520px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Lists">
        <div className="sheet-head">
          <h1 className="page-title grow">Lists</h1>
          <ImportRows label="New list" onDone={(made) => void navigate(`/lists/${made}${search}`)} />
        </div>
        {lists.isPending && <Reading title="Fetching lists" />}
        {lists.isError && <Failed title="Lists cannot be shown">{lists.error.message}</Failed>}
        {lists.isSuccess && all.length === 0 && (
          <Empty title="No lists yet">
            A list holds what you know of users, hosts, networks or codes. Make one from CSV, JSON or a STIX
            bundle; hunts ask it by &ldquo;user in list NAME&rdquo;.
          </Empty>
        )}
        <div className="scrolls">
          {all.length > 0 && (
            <table className="table queue" style={{ tableLayout: 'fixed' }}>
              <thead>
                <tr>
                  <th>list</th>
                  <th style={{ width: 84 }}>match</th>
                  <th className="num" style={{ width: 66 }}>
                    rows
                  </th>
                  <th style={{ width: 112 }}>changed</th>
                  <th className="num" style={{ width: 74 }}>
                    used by
                  </th>
                </tr>
              </thead>
              <tbody>
                {all.map((list) => (
                  <tr
                    key={list.name}
                    data-opens
                    className={list.name === open?.name ? 'lit' : ''}
                    onClick={() => void navigate(`/lists/${list.name}${search}`)}
                  >
                    <td>
                      <RowLink to={`/lists/${list.name}${search}`} mono>
                        {list.name}
                      </RowLink>
                      <span className="queue-subject">{list.description || `by ${list.key}`}</span>
                    </td>
                    <td>{matchWords[list.match]}</td>
                    <td className="num">{count(list.rows)}</td>
                    <td>{showTime(list.updated, beam.zone, 'minute')}</td>
                    <td className="num">
                      {list.usedBy.length === 0 ? <span className="absent">none</span> : list.usedBy.length}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <div className="sheet-foot">
          <span className="grow">Networks match the longest prefix. Times are {beam.zone}.</span>
          <CurlLink path="/lists" />
        </div>
      </section>
      {open !== undefined ? (
        <ListSheet key={open.name} list={open} zone={beam.zone} search={search} />
      ) : (
        <section className="sheet" aria-label="List">
          {name !== undefined && lists.isSuccess && (
            <Empty title={`There is no list "${name}"`}>Choose one at the left, or make it.</Empty>
          )}
        </section>
      )}
    </main>
  );
}
