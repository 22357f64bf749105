import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import {
  discardSetAside,
  exportSetAside,
  listSetAside,
  retrySetAside,
} from '../../../core/wire/endpoints/set-aside.js';
import type { SetAsideGroup, SetAsideRetried, Source } from '../../../core/wire/sources.js';
import { about, addressOf, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { LineForm } from '../../kit/LineForm.js';
import { count, counted, showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';

/** What could not be read, by the reason: with examples, and ways to read it again, take it out, or throw it away. */
export function SetAsideGroups({
  source,
  zone,
  search,
}: {
  source: Source;
  zone: string;
  search: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const params = { source: source.name };
  const list = useQuery(answerTo(listSetAside, { params }));
  const refresh = (): Promise<void> => client.invalidateQueries(about('sources'));
  const retry = useMutation({
    mutationFn: (group: string | null) =>
      call(retrySetAside, { params, body: group === null ? {} : { group } }),
    onSettled: refresh,
  });
  if (list.isPending) return <Reading title="Fetching what was set aside" />;
  if (list.isError) return <Failed title="It cannot be shown">{list.error.message}</Failed>;
  const { total, groups } = list.data;
  if (total === 0)
    return (
      <>
        <Retried answer={retry.data} />
        <Empty title="Nothing is set aside">
          Every record of this source could be read. What cannot be is kept here as it came, and can be read
          again.
        </Empty>
      </>
    );
  return (
    <>
      <div className="sub-head">
        <h3 className="section-head grow">
          {counted(total, 'record')}, {counted(groups.length, 'reason')}
        </h3>
        <Link className="sm" to={`/sources/${source.name}/recipe${search}`}>
          Mend the recipe
        </Link>
        {person.role !== 'reader' && (
          <Button size="sm" variant="primary" disabled={retry.isPending} onClick={() => retry.mutate(null)}>
            {retry.isPending ? 'Reading again…' : 'Read all again'}
          </Button>
        )}
      </div>
      <Retried answer={retry.data} />
      {retry.isError && <Failed title="They were not read again">{retry.error.message}</Failed>}
      {groups.map((group) => (
        <Group
          key={group.group}
          group={group}
          zone={zone}
          source={source.name}
          onRetry={() => retry.mutate(group.group)}
          onGone={() => void refresh()}
        />
      ))}
    </>
  );
}

function Retried({ answer }: { answer: SetAsideRetried | undefined }): JSX.Element | null {
  if (answer === undefined) return null;
  return (
    <p className="inset sm py-1" role="status">
      {count(answer.tried)} read again: {count(answer.stored)} stored, {count(answer.known)} already known,{' '}
      {count(answer.discarded)} left out, {count(answer.setAside)} still set aside.
    </p>
  );
}

function Group({
  group,
  zone,
  source,
  onRetry,
  onGone,
}: {
  group: SetAsideGroup;
  zone: string;
  source: string;
  onRetry: () => void;
  onGone: () => void;
}): JSX.Element {
  const person = usePerson();
  const [discarding, setDiscarding] = useState(false);
  return (
    <div className="haired inset py-2">
      <p className="sm d-flex gap-3 text-nowrap">
        <span className="grow anywhere text-wrap">
          <b>{count(group.records)}</b> {group.reason}
        </span>
        {person.role !== 'reader' && (
          <>
            <button type="button" className="link" onClick={onRetry}>
              Read again
            </button>
            <a
              href={`/api/v1${addressOf(exportSetAside, { params: { source }, query: { group: group.group } })}`}
            >
              Export
            </a>
          </>
        )}
        {person.role === 'admin' && (
          <button type="button" className="link" onClick={() => setDiscarding(!discarding)}>
            Discard
          </button>
        )}
      </p>
      <p className="xs faint">
        {showTime(group.first, zone, 'minute')} to {showTime(group.last, zone, 'minute')} {zone}
      </p>
      {discarding && <Discard group={group} source={source} onGone={onGone} />}
      {group.examples.map((example, i) => (
        <p key={i} className="mono xs soft pt-1 anywhere">
          {example.length > 400 ? `${example.slice(0, 400)}…` : example}
        </p>
      ))}
    </div>
  );
}

/** Throwing records away needs a reason, which is kept with who did it. */
function Discard({
  group,
  source,
  onGone,
}: {
  group: SetAsideGroup;
  source: string;
  onGone: () => void;
}): JSX.Element {
  const discard = useMutation({
    mutationFn: (because: string) =>
      call(discardSetAside, { params: { source }, body: { group: group.group, because } }),
    onSuccess: onGone,
  });
  return (
    <LineForm
      className="d-flex gap-2 py-1"
      label="Discard"
      field="Why they are thrown away"
      placeholder="why they are thrown away"
      minLength={3}
      maxLength={500}
      send={`Discard ${count(group.records)}`}
      variant="outline-secondary"
      isSending={discard.isPending}
      onSend={(because) => discard.mutate(because)}
      failure={discard.error}
      failed="They were not thrown away"
    />
  );
}
