import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { beginReread, listRereads, stopReread } from '../../../core/wire/endpoints/rereads.js';
import type { Reread } from '../../../core/wire/rereads.js';
import { answerTo, call, keyOf } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { count, showTime } from '../../ui/format.js';
import { Failed } from '../../ui/State.js';

/** While one is at work it is looked at so often. */
const LOOK_MILLISECONDS = 700;

const isAtWork = ({ state }: Reread): boolean => state === 'waiting' || state === 'running';

/** What has come of a work so far, numbers first. */
function inWords({ done, total, changed, unreadable, discarded, discard, state }: Reread): string {
  if (total === 0) return 'nothing to do: this version has read all there is';
  const parts = [
    total === null ? 'counting' : `${count(done)} of ${count(total)} read again`,
    `${count(changed)} came out differently`,
    ...(unreadable > 0 ? [`${count(unreadable)} stayed, since this version cannot read them`] : []),
    ...(discarded > 0
      ? [`${count(discarded)} ${discard ? 'taken out' : 'stayed although this version discards them'}`]
      : []),
  ];
  return `${parts.join(', ')}${state === 'stopped' ? '; stopped' : ''}`;
}

/** Stored records read again by the newest version of the recipe: how far that is, and a way to begin. */
export function Rereads({
  source,
  version,
  zone,
}: {
  source: string;
  version: number;
  zone: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const [discard, setDiscard] = useState(false);
  const works = useQuery({
    ...answerTo(listRereads, { params: { source } }),
    refetchInterval: (query) => (query.state.data?.rereads.some(isAtWork) ? LOOK_MILLISECONDS : false),
  });
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: keyOf(listRereads) });
  const begin = useMutation({
    mutationFn: () => call(beginReread, { params: { source }, body: { discard } }),
    onSuccess: refresh,
  });
  const stop = useMutation({
    mutationFn: (id: number) => call(stopReread, { params: { work: id } }),
    onSettled: refresh,
  });
  const all = works.data?.rereads ?? [];
  const [newest] = all;
  const atWork = newest !== undefined && isAtWork(newest);
  return (
    <section aria-label="Stored records, read again">
      <div className="sub-head ruled">
        <h3 className="section-head">Stored records, read again</h3>
        <span className="xs faint">by version {version}; counts and sightings follow</span>
      </div>
      {newest !== undefined && (
        <div className="inset sm py-1" data-testid="reread" aria-live="polite">
          <p>
            Version {newest.version}, begun {showTime(newest.created, zone, 'minute')} by {newest.by}:{' '}
            {inWords(newest)}.
          </p>
          {atWork && (
            <div
              className="progress-amber my-1"
              role="progressbar"
              aria-label="Read again"
              aria-valuenow={newest.done}
              aria-valuemax={newest.total ?? 0}
            >
              <i style={{ width: `${newest.total ? (100 * newest.done) / newest.total : 0}%` }} />
            </div>
          )}
          {newest.reasons.map((reason) => (
            <p key={reason} className="xs soft mono anywhere">
              {reason}
            </p>
          ))}
          {newest.state === 'failed' && <Failed title="It broke off">{newest.error}</Failed>}
          {atWork && person.role === 'admin' && (
            <button type="button" className="link" onClick={() => stop.mutate(newest.id)}>
              Stop; what is done stays
            </button>
          )}
        </div>
      )}
      {person.role === 'admin' && !atWork && (
        <div className="inset d-flex gap-3 align-items-center py-2">
          <Button
            size="sm"
            variant="outline-secondary"
            disabled={begin.isPending}
            onClick={() => begin.mutate()}
          >
            Read again
          </Button>
          <Form.Check
            id={`reread-discard-${source}`}
            className="sm"
            label="and take out what the recipe discards now"
            checked={discard}
            onChange={(event) => setDiscard(event.target.checked)}
          />
        </div>
      )}
      {begin.isError && <Failed title="It was not begun">{begin.error.message}</Failed>}
    </section>
  );
}
