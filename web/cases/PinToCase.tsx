import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { CaseDetail, NewPin } from '../../core/wire/cases.js';
import { listCases, openCase, pinToCase, readCase } from '../../core/wire/endpoints/cases.js';
import { about, answerTo, call } from '../api/call.js';
import { FieldsDialog } from '../kit/FieldsDialog.js';
import { TextField } from '../kit/form.js';
import { Reading } from '../ui/State.js';

interface NewCase {
  readonly title: string;
}

/** Pins things to a case: one that is open, or a new one. */
export function PinToCase({
  pins,
  suggested,
  search,
  onClose,
}: {
  pins: readonly NewPin[];
  /** The title a new case begins with. */
  suggested: string;
  search: string;
  onClose: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const cases = useQuery(answerTo(listCases));
  const open = cases.data?.cases.filter(({ state }) => state === 'open') ?? [];
  const pin = useMutation({
    mutationFn: async (to: NewCase | { readonly id: number }): Promise<CaseDetail> => {
      if ('title' in to) return call(openCase, { body: { title: to.title, pins } });
      const { id } = to;
      let last: CaseDetail | undefined;
      for (const body of pins) last = await call(pinToCase, { params: { id }, body });
      return last ?? call(readCase, { params: { id } });
    },
    onSuccess: async () => {
      await client.invalidateQueries(about('cases'));
      await client.invalidateQueries(about('alerts'));
    },
  });
  return (
    <FieldsDialog<NewCase>
      title="Into a case"
      begin={{ title: suggested }}
      onSend={({ title }) => pin.mutate({ title: title.trim() })}
      send="New case"
      maySend={({ title }) => title.trim() !== ''}
      isSending={pin.isPending}
      failure={pin.error}
      failed="It was not pinned"
      done={
        pin.data && (
          <>
            Pinned to{' '}
            <Link to={`/cases/${pin.data.id}${search}`} onClick={onClose}>
              {pin.data.title}
            </Link>
            .
          </>
        )
      }
      onClose={onClose}
    >
      <TextField<NewCase> name="title" label="Title of a new case" maxLength={300} autoFocus />
      {cases.isPending && <Reading title="Fetching the cases" />}
      {open.length > 0 && (
        <div>
          <h3 className="section-head pt-2">Or one that is open</h3>
          {open.map((one) => (
            <p key={one.id} className="mb-1">
              <button
                type="button"
                className="link text-start"
                disabled={pin.isPending}
                onClick={() => pin.mutate({ id: one.id })}
              >
                {one.title}
              </button>{' '}
              <span className="soft sm">
                with {one.owner}, {one.pins} pinned
              </span>
            </p>
          ))}
        </div>
      )}
    </FieldsDialog>
  );
}
