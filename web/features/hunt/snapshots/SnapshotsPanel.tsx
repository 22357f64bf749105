import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { keepSnapshot, listSnapshots, removeSnapshot } from '../../../../core/wire/endpoints/snapshots.js';
import type { NewSnapshot, Question } from '../../../../core/wire/paths.js';
import { about, call } from '../../../api/call.js';
import { usePages } from '../../../api/pages.js';
import { usePerson } from '../../../api/session.js';
import { LineForm } from '../../../kit/LineForm.js';
import { More } from '../../../kit/More.js';
import { RemoveButton } from '../../../kit/RemoveButton.js';
import { counted, showTime } from '../../../ui/format.js';
import { Empty, Failed } from '../../../ui/State.js';

interface SnapshotsPanelProps {
  /** What would be asked and kept. */
  readonly question: Question;
  readonly zone: string;
  /** The part of the address that carries the Beam. */
  readonly search: string;
}

/** Results that are kept as they were, and keeping the one on screen. */
export function SnapshotsPanel({ question, zone, search }: SnapshotsPanelProps): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const snapshots = usePages(listSnapshots, {});
  const refresh = (): void => void client.invalidateQueries(about('snapshots'));
  const keep = useMutation({
    mutationFn: (body: NewSnapshot) => call(keepSnapshot, { body }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (id: number) => call(removeSnapshot, { params: { id } }),
    onSuccess: refresh,
  });
  const failure = keep.error ?? remove.error;
  const all = snapshots.pages.flatMap((page) => page.snapshots);
  return (
    <section aria-label="Snapshots">
      {person.role !== 'reader' && (
        <LineForm
          key={keep.data?.id}
          className="inset py-2 d-flex gap-2"
          label="Keep this result"
          field="Name of the snapshot"
          placeholder="Name for the rows as they are now"
          maxLength={120}
          autoFocus={false}
          send="Keep"
          variant="outline-secondary"
          isSending={keep.isPending}
          onSend={(name) => keep.mutate({ name, question })}
        />
      )}
      {failure !== null && <Failed title="It was not done">{failure.message}</Failed>}
      {snapshots.isSuccess && all.length === 0 && (
        <Empty title="Nothing is kept yet">
          A snapshot holds the rows as they were, with the hunt, its window and the time of asking.
        </Empty>
      )}
      {all.map((one) => (
        <div key={one.id} className="row-line saved-hunt">
          <Link to={`/snapshot/${one.id}${search}`} className="cut" title={one.question.text}>
            {one.name}
          </Link>
          <span className="xs soft nowrap">
            {counted(one.count, 'row')} · {showTime(one.asked, zone, 'minute')}
          </span>
          {one.owner === person.name && (
            <span className="own-actions">
              <RemoveButton
                label="remove"
                what={one.name}
                className="link xs"
                onRemove={() => remove.mutate(one.id)}
              />
            </span>
          )}
        </div>
      ))}
      <More onMore={snapshots.more} label="Show earlier ones" />
    </section>
  );
}
