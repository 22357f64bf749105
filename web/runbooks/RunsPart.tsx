import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { listRunbooks, listRuns, startRun } from '../../core/wire/endpoints/runbooks.js';
import { about, answerTo, call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { Failed } from '../ui/State.js';
import { runWords } from './run-words.js';

/** An alert that a runbook may be started on. */
export interface StartOn {
  readonly id: number;
  readonly title: string;
}

/** Runs of runbooks on an alert, or on the alerts of a case; and starting one. */
export function RunsPart({
  of,
  on,
  zone,
  search,
  mayChange,
}: {
  of: { readonly alert: number } | { readonly case: number };
  /** On which alerts one may be started. */
  on: readonly StartOn[];
  zone: string;
  search: string;
  mayChange: boolean;
}): JSX.Element | null {
  const runs = useQuery(answerTo(listRuns, { query: of }));
  const [starting, setStarting] = useState(false);
  const shown = runs.data?.runs ?? [];
  if (shown.length === 0 && (!mayChange || on.length === 0)) return null;
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head grow">Runbooks</h3>
        {mayChange && on.length > 0 && (
          <button type="button" className="link sm" onClick={() => setStarting(true)}>
            Start one
          </button>
        )}
      </div>
      {shown.map((run) => (
        <div key={run.id} className={`row-line ${run.waits === 'answer' ? 'lit' : ''}`}>
          <Link className="cut" to={`/runbooks/runs/${run.id}${search}`}>
            {run.title}
          </Link>
          <span
            className={`cut fill sm ${run.state === 'failed' ? 'problem' : 'soft'}`}
            title={runWords(run, zone)}
          >
            {runWords(run, zone)}
          </span>
        </div>
      ))}
      {shown.length === 0 && <p className="inset sm soft mb-1">None was started.</p>}
      {starting && <StartRunbook on={on} search={search} onClose={() => setStarting(false)} />}
    </>
  );
}

/** Chooses a runbook, and the alert where there are several, and starts it. */
export function StartRunbook({
  on,
  search,
  onClose,
}: {
  on: readonly StartOn[];
  search: string;
  onClose: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const navigate = useNavigate();
  const known = useQuery(answerTo(listRunbooks));
  const [runbook, setRunbook] = useState('');
  const [alert, setAlert] = useState(on[0]?.id ?? 0);
  const chosen = runbook || (known.data?.runbooks[0]?.name ?? '');
  const start = useMutation({
    mutationFn: () => call(startRun, { body: { runbook: chosen, alert } }),
    onSuccess: async (run) => {
      await client.invalidateQueries(about('runbook-runs'));
      void navigate(`/runbooks/runs/${run.id}${search}`);
    },
  });
  const one = known.data?.runbooks.find(({ name }) => name === chosen);
  return (
    <Dialog
      title="Start a runbook"
      onClose={onClose}
      onSend={() => start.mutate()}
      foot={
        <>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={chosen === '' || start.isPending}>
            Start it
          </Button>
        </>
      }
    >
      <Form.Group controlId="run-runbook" className="mb-2">
        <Form.Label className="sm mb-0">Runbook</Form.Label>
        <Form.Select size="sm" autoFocus value={chosen} onChange={(event) => setRunbook(event.target.value)}>
          {known.data?.runbooks.map(({ name, title }) => (
            <option key={name} value={name}>
              {title}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {on.length > 1 && (
        <Form.Group controlId="run-alert" className="mb-2">
          <Form.Label className="sm mb-0">On the alert</Form.Label>
          <Form.Select size="sm" value={alert} onChange={(event) => setAlert(Number(event.target.value))}>
            {on.map(({ id, title }) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      {one !== undefined && (
        <p className="sm soft">
          {one.about} {one.steps} steps; what it asks for is done once another person approves it.{' '}
          <Link to={`/runbooks/${one.name}${search}${search === '' ? '?' : '&'}try=${alert}`}>
            Try it first: nothing is sent
          </Link>
        </p>
      )}
      {start.isError && <Failed title="It was not started">{start.error.message}</Failed>}
    </Dialog>
  );
}
