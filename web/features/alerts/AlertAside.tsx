import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { AlertDetail } from '../../../core/wire/alerts.js';
import { deliverAgain } from '../../../core/wire/endpoints/deliveries.js';
import { readDossier } from '../../../core/wire/endpoints/dossiers.js';
import type { SubjectKind } from '../../../core/subjects/kinds.js';
import { about, answerTo, call } from '../../api/call.js';
import { dossierAddress } from '../../results/dossier-address.js';
import { Words } from '../../results/Words.js';
import { showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

/** Which conditions of the rule met which values. */
export function Why({ why }: { why: AlertDetail['why'] }): JSX.Element | null {
  const [newest] = why;
  if (newest === undefined) return null;
  const met = why.filter(({ event }) => event === newest.event);
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Why it fired</h3>
        <span className="xs faint">by its newest event</span>
      </div>
      {met.map(({ document, field, value, says }, i) => (
        <p key={`${document} ${field ?? ''} ${says} ${i}`} className="inset sm mb-0 met" title={document}>
          <span className="soft">{field ?? 'any text'}</span>{' '}
          <mark className="mono">{value === null ? 'nothing' : value.slice(0, 200)}</mark>{' '}
          <span className="soft">{says}</span>
        </p>
      ))}
    </>
  );
}

/** What was settled before of the same rule or subject, and as what. */
export function Similar({
  similar,
  search,
  zone,
}: {
  similar: AlertDetail['similar'];
  search: string;
  zone: string;
}): JSX.Element | null {
  if (similar.length === 0) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Similar, settled before</h3>
      </div>
      {similar.map((one) => (
        <div key={one.id} className="row-line">
          <Link to={`/alerts/${one.id}${search}`} className="cut fill" title={one.subject}>
            {one.title}: <span className="mono">{one.subject}</span>
          </Link>
          <b className={`fw-medium${one.verdict === 'real' ? ' problem' : ''}`}>{one.verdict}</b>
          <span className="soft cut narrow" title={one.reason ?? ''}>
            {one.reason ?? showTime(one.lastEvent, zone, 'minute')}
          </span>
        </div>
      ))}
    </>
  );
}

const stateWords = { waiting: 'waits', sent: 'sent', dead: 'given up' } as const;

/** What went out because of an alert, and how it fared. */
export function Deliveries({
  alert,
  mayChange,
}: {
  alert: AlertDetail;
  mayChange: boolean;
}): JSX.Element | null {
  const client = useQueryClient();
  const again = useMutation({
    mutationFn: (id: number) => call(deliverAgain, { params: { delivery: id } }),
    onSettled: () => client.invalidateQueries(about('alerts')),
  });
  if (alert.deliveries.length === 0) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">What went out</h3>
      </div>
      {alert.deliveries.map(({ id, does, state, said, tries }) => (
        <div key={id} className="row-line">
          <span className="cut fill" title={does}>
            {does}
          </span>
          <span className={state === 'dead' ? 'problem' : ''} title={said ?? ''}>
            {stateWords[state]}
            {state !== 'sent' && tries > 0
              ? ` after ${tries === 1 ? 'one try' : `${tries} tries`}: ${said ?? ''}`.slice(0, 80)
              : ''}
          </span>
          {state === 'dead' && mayChange && (
            <button type="button" className="link" onClick={() => again.mutate(id)}>
              Try again
            </button>
          )}
        </div>
      ))}
      {again.isError && <Failed title="It was not tried again">{again.error.message}</Failed>}
    </>
  );
}

const DAY_MILLISECONDS = 86_400_000;

/** The subject at a glance: what is different about it, and what is usual. */
export function SmallDossier({
  kind,
  name,
  until,
  zone,
  search,
}: {
  kind: SubjectKind;
  name: string;
  until: string;
  zone: string;
  search: string;
}): JSX.Element | null {
  const to = new Date(Date.parse(until) + 1000).toISOString();
  const from = new Date(Date.parse(to) - DAY_MILLISECONDS).toISOString();
  const dossier = useQuery({
    ...answerTo(readDossier, { params: { kind, name }, query: { from, to, zone } }),
    staleTime: 60_000,
  });
  const { data } = dossier;
  if (data === undefined) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head mono cut">{name}</h3>
        <span className="xs faint grow">the day before</span>
        <Link className="sm" to={dossierAddress(kind, name, search)}>
          Open dossier
        </Link>
      </div>
      <p className="inset sm mb-1">
        <Words words={data.sentence} />
      </p>
      <p className="inset sm soft mb-1">
        <Words words={data.normal} first />
      </p>
    </>
  );
}
