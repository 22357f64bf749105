import { useMutation, useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { readOffer, takeOffer } from '../../../core/wire/endpoints/deliveries.js';
import { answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { Failed, Reading } from '../../ui/State.js';

/** What a button of a message leads to: what it would do, and whoever opened it says that they mean it. */
export function OfferPage(): JSX.Element {
  const params = { token: useParams()['token'] ?? '' };
  const mayAsk = usePerson().role !== 'reader';
  const found = useQuery({
    ...answerTo(readOffer, { params }),
    enabled: mayAsk,
    // Once it was pressed there is nothing to read any more, while what was done still stands here.
    staleTime: Infinity,
    retry: false,
  });
  const take = useMutation({ mutationFn: () => call(takeOffer, { params }) });
  return (
    <main className="bench">
      <section className="sheet" aria-label="Offered in a room">
        {!mayAsk ? (
          <Failed title="Only analysts may do that">You read here; ask somebody who works on alerts.</Failed>
        ) : found.data === undefined ? (
          found.isError ? (
            <Failed title="Nothing is offered here any more">
              {found.error.message} <Link to="/alerts">Go to the alerts</Link>
            </Failed>
          ) : (
            <Reading title="Fetching what is offered" />
          )
        ) : (
          <>
            <div className="sheet-head pb-1">
              <h1 className="sheet-title grow anywhere">
                {found.data.does}: {found.data.subject}
              </h1>
            </div>
            <p className="inset soft anywhere mb-3">
              offered in {found.data.via} for the alert{' '}
              <Link to={`/alerts/${found.data.alert}`}>{found.data.title}</Link>
            </p>
            {take.isError && <Failed title="It was not done">{take.error.message}</Failed>}
            {take.isSuccess ? (
              <p role="status" className="inset anywhere">
                {take.data.said} <Link to={`/alerts/${found.data.alert}`}>Open the alert</Link>
              </p>
            ) : (
              <div className="inset">
                <p className="sm mb-2">
                  {found.data.runbook
                    ? 'It is started in your name, once.'
                    : 'It is asked for in your name, once; another person approves it on the alert.'}
                </p>
                <Button variant="primary" autoFocus disabled={take.isPending} onClick={() => take.mutate()}>
                  {found.data.runbook ? 'Start it' : 'Ask for it'}
                </Button>
              </div>
            )}
          </>
        )}
      </section>
    </main>
  );
}
