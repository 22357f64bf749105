import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import type { CaseDetail, NewPin } from '../../core/wire/cases.js';
import { listCases, openCase, pinToCase, readCase } from '../../core/wire/endpoints/cases.js';
import { about, answerTo, call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { Failed, Reading } from '../ui/State.js';

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
  const [title, setTitle] = useState(suggested);
  const cases = useQuery(answerTo(listCases));
  const open = cases.data?.cases.filter(({ state }) => state === 'open') ?? [];
  const pin = useMutation({
    mutationFn: async (to: number | null): Promise<CaseDetail> => {
      if (to === null) return call(openCase, { body: { title, pins } });
      let last: CaseDetail | undefined;
      for (const body of pins) last = await call(pinToCase, { params: { id: to }, body });
      return last ?? call(readCase, { params: { id: to } });
    },
    onSuccess: async () => {
      await client.invalidateQueries(about('cases'));
      await client.invalidateQueries(about('alerts'));
    },
  });
  return (
    <Dialog title="Into a case" onClose={onClose}>
      {pin.isSuccess ? (
        <p role="status">
          Pinned to{' '}
          <Link to={`/cases/${pin.data.id}${search}`} onClick={onClose}>
            {pin.data.title}
          </Link>
          .
        </p>
      ) : (
        <>
          <Form
            className="d-flex gap-2 align-items-center pb-2"
            onSubmit={(event: FormEvent) => {
              event.preventDefault();
              if (title.trim() !== '') pin.mutate(null);
            }}
          >
            <Form.Control
              size="sm"
              aria-label="Title of a new case"
              value={title}
              maxLength={300}
              onChange={(event) => setTitle(event.target.value)}
            />
            <Button type="submit" size="sm" variant="primary" className="nowrap" disabled={pin.isPending}>
              New case
            </Button>
          </Form>
          {cases.isPending && <Reading title="Fetching the cases" />}
          {open.length > 0 && <h3 className="section-head pt-2">Or one that is open</h3>}
          {open.map((one) => (
            <p key={one.id} className="mb-1">
              <button type="button" className="link text-start" onClick={() => pin.mutate(one.id)}>
                {one.title}
              </button>{' '}
              <span className="soft sm">
                with {one.owner}, {one.pins} pinned
              </span>
            </p>
          ))}
          {pin.isError && <Failed title="It was not pinned">{pin.error.message}</Failed>}
        </>
      )}
    </Dialog>
  );
}
