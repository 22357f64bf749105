import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { listRunbooks, listRuns, startRun } from '../../core/wire/endpoints/runbooks.js';
import { about, answerTo, call } from '../api/call.js';
import { FieldsDialog } from '../kit/FieldsDialog.js';
import { ChoiceField } from '../kit/form.js';
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

interface Choice {
  readonly runbook: string;
  readonly alert: string;
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
  const all = known.data?.runbooks ?? [];
  const start = useMutation({
    mutationFn: (body: { readonly runbook: string; readonly alert: number }) => call(startRun, { body }),
    onSuccess: async (run) => {
      await client.invalidateQueries(about('runbook-runs'));
      void navigate(`/runbooks/runs/${run.id}${search}`);
    },
  });
  const chosenOf = ({ runbook }: Choice): (typeof all)[number] | undefined =>
    all.find(({ name }) => name === runbook) ?? all[0];
  return (
    <FieldsDialog<Choice>
      title="Start a runbook"
      begin={{ runbook: '', alert: String(on[0]?.id ?? 0) }}
      onSend={(choice) => {
        const chosen = chosenOf(choice);
        if (chosen !== undefined) start.mutate({ runbook: chosen.name, alert: Number(choice.alert) });
      }}
      send="Start it"
      maySend={(choice) => chosenOf(choice) !== undefined}
      isSending={start.isPending}
      failure={start.error}
      failed="It was not started"
      onClose={onClose}
    >
      {(choice) => {
        const chosen = chosenOf(choice);
        return (
          <>
            <ChoiceField<Choice>
              name="runbook"
              label="Runbook"
              autoFocus
              choices={all.map(({ name, title }) => [name, title])}
            />
            {on.length > 1 && (
              <ChoiceField<Choice>
                name="alert"
                label="On the alert"
                choices={on.map(({ id, title }) => [String(id), title])}
              />
            )}
            {chosen !== undefined && (
              <p className="sm soft mb-0">
                {chosen.about} {chosen.steps} steps; what it asks for is done once another person approves it.{' '}
                <Link to={`/runbooks/${chosen.name}${search}${search === '' ? '?' : '&'}try=${choice.alert}`}>
                  Try it first: nothing is sent
                </Link>
              </p>
            )}
          </>
        );
      }}
    </FieldsDialog>
  );
}
