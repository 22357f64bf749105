import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { readPull, removePull, runPull } from '../../core/wire/endpoints/pulls.js';
import type { Pull, PullTarget } from '../../core/wire/pulls.js';
import { about, answerTo, call } from '../api/call.js';
import { usePerson } from '../api/session.js';
import { RemoveButton } from '../kit/RemoveButton.js';
import { count, counted, roughly, showTime } from '../ui/format.js';
import { Failed } from '../ui/State.js';
import { PullForm } from './PullForm.js';

/** How the last run went, in words. */
function outcomeOf(pull: Pull, zone: string): string {
  if (pull.lastRun === null) return 'not fetched yet';
  const when = `${showTime(pull.lastRun, zone, 'second')} ${zone}`;
  return pull.error === null
    ? `fetched at ${when}: ${
        pull.into === 'list'
          ? pull.lastFetched === 0
            ? 'unchanged'
            : counted(pull.lastFetched ?? 0, pull.speaks === 'taxii' ? 'indicator' : 'row')
          : `${counted(pull.lastFetched ?? 0, 'record')}, ${count(pull.fetched)} in all`
      }`
    : `failed at ${when}${pull.failures > 1 ? `, ${count(pull.failures)} times in a row` : ''}`;
}

/** What a source or list is fetched from, how that goes, and ways to change it. */
export function PullPanel({
  into,
  name,
  zone,
  onFetched,
}: {
  into: PullTarget;
  name: string;
  zone: string;
  /** Something new may have come. */
  onFetched: () => void;
}): JSX.Element | null {
  const person = usePerson();
  const client = useQueryClient();
  const [editing, setEditing] = useState(false);
  const params = { into, name };
  const found = useQuery(answerTo(readPull, { params }));
  const changed = async (): Promise<void> => {
    await client.invalidateQueries(about('pulls'));
    onFetched();
  };
  const fetchNow = useMutation({
    mutationFn: () => call(runPull, { params }),
    onSuccess: changed,
  });
  const end = useMutation({ mutationFn: () => call(removePull, { params }), onSuccess: changed });
  const pull = found.data?.pull ?? null;
  const isAdmin = person.role === 'admin';
  if (!found.isSuccess) return null;
  if (editing)
    return (
      <PullForm
        into={into}
        name={name}
        pull={pull}
        onDone={() => {
          setEditing(false);
          void changed();
        }}
        onCancel={() => setEditing(false)}
      />
    );
  if (pull === null)
    return isAdmin ? (
      <p className="inset sm py-2">
        <button type="button" className="link" onClick={() => setEditing(true)}>
          Pull {into === 'list' ? 'its rows' : 'its records'} from an address
        </button>{' '}
        <span className="soft">that answers JSON, again and again</span>
      </p>
    ) : null;
  return (
    <div className="inset sm py-2" data-testid="pull">
      <p className="anywhere">
        {pull.enabled ? `Pulled every ${roughly(pull.everySeconds)} from ` : 'Switched off: '}
        <span className="mono">{pull.address}</span>
      </p>
      <p className="soft">
        {outcomeOf(pull, zone)}
        {pull.cursor !== null && (
          <>
            {' '}
            · goes on from <span className="mono">{pull.cursor}</span>
          </>
        )}
      </p>
      {pull.error !== null && <Failed title="The last run failed">{pull.error}</Failed>}
      {fetchNow.isError && <Failed title="It was not fetched">{fetchNow.error.message}</Failed>}
      <p className="d-flex gap-3 pt-1">
        {person.role !== 'reader' && (
          <button
            type="button"
            className="link"
            disabled={fetchNow.isPending}
            onClick={() => fetchNow.mutate()}
          >
            {fetchNow.isPending ? 'Fetching…' : 'Fetch now'}
          </button>
        )}
        {isAdmin && (
          <>
            <button type="button" className="link" onClick={() => setEditing(true)}>
              Change
            </button>
            <RemoveButton
              label="End"
              what={`the pull from ${pull.address}`}
              consequence="What it has brought stays."
              className="link"
              onRemove={() => end.mutate()}
            />
          </>
        )}
      </p>
    </div>
  );
}
