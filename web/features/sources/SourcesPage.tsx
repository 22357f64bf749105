import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { Source } from '../../../core/wire/sources.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../ui/Curl.js';
import { count, roughly, showTime } from '../../ui/format.js';
import { SourceGlyph } from '../../ui/Glyphs.js';
import { RowLink } from '../../ui/RowLink.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { NewSource } from './NewSource.js';
import { SourceSheet } from './SourceSheet.js';
import { SparkBars } from './SparkBars.js';

/** Where records come from, and how each source stands. */
export function SourcesPage(): JSX.Element {
  const { source: name } = useParams();
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const search = beamSearch(parameters);
  const sources = useQuery({
    queryKey: keys.sources,
    queryFn: () => askJson<{ sources: Source[] }>('/sources'),
  });
  const all = sources.data?.sources ?? [];
  const open = all.find((source) => source.name === name) ?? (name === undefined ? all[0] : undefined);
  return (
    <main className="bench" style={{ gridTemplateColumns: '646px minmax(0, 1fr)' }}>
      <section className="sheet" aria-label="Sources">
        <div className="sheet-head">
          <h1 className="page-title grow">Sources</h1>
          <NewSource onMade={(made) => void navigate(`/sources/${made}${search}`)} />
        </div>
        {sources.isPending && <Reading title="Fetching sources" />}
        {sources.isError && <Failed title="Sources cannot be shown">{sources.error.message}</Failed>}
        {sources.isSuccess && all.length === 0 && (
          <Empty title="No sources yet">
            Add the first one: it gets a recipe that reads its records, and a key to send them with.
          </Empty>
        )}
        <div className="scrolls">
          {all.length > 0 && (
            <table className="table queue" style={{ tableLayout: 'fixed' }}>
              <thead>
                <tr>
                  <th>source</th>
                  <th style={{ width: 92 }}>state</th>
                  <th style={{ width: 110 }}>last event</th>
                  <th style={{ width: 108 }}>last 24 hours</th>
                  <th className="num" style={{ width: 92 }}>
                    lag
                  </th>
                  <th className="num" style={{ width: 82 }}>
                    set aside
                  </th>
                </tr>
              </thead>
              <tbody>
                {all.map((source) => (
                  <tr
                    key={source.name}
                    data-opens
                    className={source.name === open?.name ? 'lit' : ''}
                    onClick={() => void navigate(`/sources/${source.name}${search}`)}
                  >
                    <td>
                      <RowLink to={`/sources/${source.name}${search}`}>{source.title}</RowLink>
                      <span className="queue-subject mono">{source.name}</span>
                    </td>
                    <td>
                      <SourceGlyph state={source.state} /> {source.state}
                    </td>
                    <td>
                      {source.lastEvent === null ? (
                        <span className="absent">never</span>
                      ) : (
                        showTime(source.lastEvent, beam.zone, 'minute')
                      )}
                    </td>
                    <td>
                      <SparkBars
                        values={source.perHour}
                        label={`events of each hour: ${source.perHour.join(', ')}`}
                      />
                    </td>
                    <td className="num">
                      {source.lag === null ? (
                        <span className="absent">none</span>
                      ) : (
                        <>
                          {roughly(source.lag.median)}
                          <span className="queue-subject">95%: {roughly(source.lag.most)}</span>
                        </>
                      )}
                    </td>
                    <td
                      className="num"
                      style={source.setAside > 0 ? { color: 'var(--sev-4)', fontWeight: 550 } : {}}
                    >
                      {count(source.setAside)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <div className="sheet-foot">
          <span>
            Quiet: silent for longer than ever in the last week. Late: 5 in 100 come in over 15 min old. Times
            are {beam.zone}.
          </span>
          <span className="grow" />
          <CurlLink path="/sources" />
        </div>
      </section>
      {open === undefined ? (
        <section className="sheet" aria-label="Source">
          {name !== undefined && sources.isSuccess ? (
            <Empty title={`There is no source "${name}"`}>Choose one from the list.</Empty>
          ) : (
            <Empty title="No source is open">Choose one from the list.</Empty>
          )}
        </section>
      ) : (
        <SourceSheet key={open.name} source={open} zone={beam.zone} search={search} />
      )}
    </main>
  );
}
