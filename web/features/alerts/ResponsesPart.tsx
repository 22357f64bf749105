import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { subjectFor } from '../../../core/responses/subjects.js';
import type { AlertDetail } from '../../../core/wire/alerts.js';
import { askResponse, decideResponse, undoResponse } from '../../../core/wire/endpoints/alerts.js';
import { listResponses } from '../../../core/wire/endpoints/responses.js';
import { about, answerTo, call } from '../../api/call.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { usePerson } from '../../api/session.js';
import { LineForm } from '../../kit/LineForm.js';
import { showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';
import { TryResponse } from './TryResponse.js';

/** What somebody is about to ask for. */
export interface WantedResponse {
  readonly does: string;
  readonly subject: string;
}

/** What was asked to be done about the subject: tried on the past, approved by another, carried out, taken back. */
export function ResponsesPart({
  alert,
  mayChange,
  zone,
  search,
}: {
  alert: AlertDetail;
  mayChange: boolean;
  zone: string;
  search: string;
}): JSX.Element | null {
  const client = useQueryClient();
  const person = usePerson();
  const [wanted, setWanted] = useState<WantedResponse | null>(null);
  const [pinning, setPinning] = useState<AlertDetail['responses'][number] | null>(null);
  const refresh = (): Promise<void> => client.invalidateQueries(about('alerts'));
  const params = { id: alert.id };
  const ask = useMutation({
    mutationFn: (body: WantedResponse & { hours?: number | null }) => call(askResponse, { params, body }),
    onSuccess: () => setWanted(null),
    onSettled: refresh,
  });
  const decide = useMutation({
    mutationFn: ({ id, ...body }: { id: number; approve: boolean; reason?: string }) =>
      call(decideResponse, { params: { id: alert.id, response: id }, body }),
    onSettled: refresh,
  });
  const undo = useMutation({
    mutationFn: (id: number) => call(undoResponse, { params: { id: alert.id, response: id } }),
    onSettled: refresh,
  });
  const known = useQuery(answerTo(listResponses));
  const offers = (known.data?.responses ?? []).flatMap(({ does, title, on }) => {
    const subject = subjectFor(on, alert);
    return subject === null ? [] : [{ does, title, subject }];
  });
  const failure = decide.error ?? undo.error;
  if (alert.responses.length === 0 && (offers.length === 0 || !mayChange)) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Responses</h3>
      </div>
      {pinning !== null && (
        <PinToCase
          pins={[
            {
              kind: 'response',
              ref: String(pinning.id),
              title: `${pinning.label} of ${pinning.subject}`.slice(0, 500),
              time: pinning.asked,
            },
          ]}
          suggested={`${alert.title}: ${alert.subject}`.slice(0, 300)}
          search={search}
          onClose={() => setPinning(null)}
        />
      )}
      {alert.responses.map((one) => (
        <div key={one.id} className={`row-line${one.state === 'asked' ? ' lit' : ''}`}>
          <span className="cut fill" title={one.said ?? ''}>
            {one.label} of <span className="mono">{one.subject}</span>, asked for by {one.askedBy}
            {mayChange && (
              <button
                type="button"
                className="link sm ms-2"
                aria-label={`Pin ${one.label} to a case`}
                onClick={() => setPinning(one)}
              >
                Into a case
              </button>
            )}
          </span>
          {one.state === 'asked' && mayChange ? (
            <span className="d-flex gap-2 py-1">
              {one.askedBy !== person.name ? (
                <Button
                  size="sm"
                  variant="primary"
                  onClick={() => decide.mutate({ id: one.id, approve: true })}
                >
                  Approve
                </Button>
              ) : person.role === 'admin' ? (
                <LineForm
                  label="Approve your own request"
                  field="Why you approve it yourself"
                  placeholder="why nobody else can"
                  maxLength={500}
                  send="Approve"
                  onSend={(why) => decide.mutate({ id: one.id, approve: true, reason: why })}
                />
              ) : (
                <span className="soft">somebody else approves</span>
              )}
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => decide.mutate({ id: one.id, approve: false })}
              >
                Refuse
              </Button>
            </span>
          ) : (
            <span className={`nowrap ${one.state === 'failed' ? 'problem' : ''}`}>
              {one.state === 'asked'
                ? 'waits for approval'
                : `${one.state}${one.decidedBy === null ? '' : `, ${one.decidedBy}`}${one.reason === null ? '' : `: ${one.reason}`}`}
              {one.state === 'done' && one.ends !== null && `, until ${showTime(one.ends, zone, 'minute')}`}
              {one.state === 'done' && one.undo !== null && mayChange && (
                <button
                  type="button"
                  className="link ms-2"
                  disabled={undo.isPending}
                  onClick={() => undo.mutate(one.id)}
                >
                  {one.undo}
                </button>
              )}
            </span>
          )}
        </div>
      ))}
      {mayChange && offers.length > 0 && (
        <p className="inset sm pt-1 mb-1 d-flex column-gap-3 row-gap-1 flex-wrap">
          <span className="soft">Try on the past, then ask for</span>
          {offers.map(({ does, title, subject }) => (
            <button
              key={does}
              type="button"
              className="link"
              title={subject}
              onClick={() => {
                ask.reset();
                setWanted({ does, subject });
              }}
            >
              {title}
            </button>
          ))}
        </p>
      )}
      {failure !== null && <Failed title="That could not be done">{failure.message}</Failed>}
      {wanted !== null && (
        <TryResponse
          key={`${wanted.does} ${wanted.subject}`}
          alert={alert.id}
          wanted={wanted}
          search={search}
          busy={ask.isPending}
          failure={ask.error}
          onWant={setWanted}
          onAsk={(hours) => ask.mutate({ ...wanted, ...(hours !== undefined && { hours }) })}
          onClose={() => setWanted(null)}
        />
      )}
    </>
  );
}
