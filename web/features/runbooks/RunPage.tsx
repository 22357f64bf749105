import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useParams, useSearchParams } from 'react-router';
import { answerRun, readRun, stopRun } from '../../../core/wire/endpoints/runbooks.js';
import type { RunDetail } from '../../../core/wire/runbooks.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { CurlLink } from '../../kit/Curl.js';
import { FieldsDialog } from '../../kit/FieldsDialog.js';
import { TextField } from '../../kit/form.js';
import { runWords } from '../../runbooks/run-words.js';
import { StepList } from '../../runbooks/StepList.js';
import { showTime } from '../../ui/format.js';
import { Key } from '../../ui/Key.js';
import { Failed, Reading } from '../../ui/State.js';
import { useKeys } from '../../ui/use-keys.js';
import { FoundTable } from './FoundTable.js';

/** One run of a runbook: every step with what happened, and what it asks now. */
export function RunPage(): JSX.Element {
  const id = Number(useParams()['id']);
  const found = useQuery({
    ...answerTo(readRun, { params: { id } }),
    // While it runs by itself its steps take a second each; whatever is decided elsewhere is told by the live stream.
    refetchInterval: ({ state: { data } }) =>
      data?.state === 'running' && data.waits !== 'answer' ? 2000 : false,
  });
  return (
    <main className="bench bench-run">
      {found.data === undefined ? (
        <section className="sheet" aria-label="Run">
          {found.isError ? (
            <Failed title="The run cannot be shown">{found.error.message}</Failed>
          ) : (
            <Reading title="Fetching the run" />
          )}
        </section>
      ) : (
        <OneRun run={found.data} />
      )}
    </main>
  );
}

type RunStep = RunDetail['steps'][number];

function OneRun({ run }: { run: RunDetail }): JSX.Element {
  const client = useQueryClient();
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const zone = beam.zone;
  const mayChange = usePerson().role !== 'reader';
  const [stopping, setStopping] = useState(false);
  const params = { id: run.id };
  const learn = (next: RunDetail): void => {
    client.setQueryData(answerTo(readRun, { params }).queryKey, next);
    void client.invalidateQueries(about('runbook-runs'));
    void client.invalidateQueries(about('alerts'));
  };
  const answer = useMutation({
    mutationFn: (body: { step: string; answer: number }) => call(answerRun, { params, body }),
    onSuccess: learn,
  });
  const stop = useMutation({
    mutationFn: (reason: string) => call(stopRun, { params, body: { ...(reason !== '' && { reason }) } }),
    onSuccess: (next) => {
      setStopping(false);
      learn(next);
    },
  });
  const here = run.steps.find(({ stands }) => stands === 'here');
  const asks = mayChange && run.waits === 'answer' ? here : undefined;
  const say = (number: number): void => {
    if (asks !== undefined && number < asks.answers.length) answer.mutate({ step: asks.id, answer: number });
  };
  useKeys({
    ...(asks !== undefined &&
      Object.fromEntries(asks.answers.map((_, number) => [String(number + 1), () => say(number)]))),
    ...(mayChange && run.state === 'running' && { x: () => setStopping(true) }),
  });
  const answers = ({ answers: all }: RunStep): JSX.Element => (
    <div className="d-flex gap-2 flex-wrap pt-1" role="group" aria-label="Answers">
      {all.map((words, number) => (
        <Button
          key={words}
          size="sm"
          variant="outline-secondary"
          disabled={answer.isPending}
          onClick={() => say(number)}
        >
          <kbd>{number + 1}</kbd> {words}
        </Button>
      ))}
    </div>
  );
  return (
    <>
      <section className="sheet" aria-label="Steps of the run">
        <div className="sheet-head pb-1">
          <h1 className="sheet-title grow anywhere">{run.title}</h1>
          {mayChange && run.state === 'running' && (
            <Button variant="outline-secondary" onClick={() => setStopping(true)}>
              Stop it
            </Button>
          )}
        </div>
        <p className={`inset sm mb-1 ${run.state === 'failed' ? 'problem' : 'soft'}`} role="status">
          {runWords(run, zone)}
        </p>
        {answer.isError && <Failed title="It was not answered">{answer.error.message}</Failed>}
        <div className="scrolls" role="region" aria-label="What happened" tabIndex={0}>
          <StepList
            label="Steps"
            steps={run.steps.map((step) => ({
              id: step.id,
              title: step.title,
              do: step.do,
              stands: step.stands,
              aside: step.ended === null ? undefined : showTime(step.ended, zone, 'second'),
              below: (
                <>
                  {step.do !== 'hunt' && step.do !== 'wait' && step.text !== '' && (
                    <p className="sm soft mb-0 anywhere">{step.text}</p>
                  )}
                  {step.said !== null && (
                    <p className="sm mb-0 anywhere">
                      {step.said}
                      {step.who !== null && <span className="soft"> · {step.who}</span>}
                    </p>
                  )}
                  {step.found !== null && <FoundTable found={step.found} search={search} />}
                  {step.id === asks?.id && answers(step)}
                  {step.stands === 'here' && run.waits === 'response' && (
                    <p className="sm mb-0">
                      Another person approves it{' '}
                      <Link to={`/alerts/${run.alert}${search}`}>on the alert</Link>.
                    </p>
                  )}
                </>
              ),
            }))}
          />
        </div>
        <div className="sheet-foot">
          {asks !== undefined && <Key keys={asks.answers.map((_, number) => String(number + 1))}>answer</Key>}
          {mayChange && run.state === 'running' && <Key keys={['X']}>stop</Key>}
          <span className="grow" />
          <CurlLink path={`/runbook-runs/${run.id}`} />
        </div>
      </section>
      <section className="sheet" aria-label="About the run">
        <div className="sheet-head pb-1">
          <h2 className="sheet-title grow">What it is about</h2>
        </div>
        <dl className="facts inset">
          <dt>subject</dt>
          <dd className="mono anywhere">{run.subject}</dd>
          <dt>alert</dt>
          <dd>
            <Link to={`/alerts/${run.alert}${search}`}>Alert {run.alert}</Link>
          </dd>
          <dt>runbook</dt>
          <dd>
            <Link to={`/runbooks/${run.runbook}${search}`}>{run.title}</Link>
            <span className="soft">{run.version === 0 ? ', as it came' : `, version ${run.version}`}</span>
          </dd>
          <dt>started</dt>
          <dd>
            {showTime(run.started, zone, 'second')} by {run.startedBy}
          </dd>
          {run.ended !== null && (
            <>
              <dt>ended</dt>
              <dd>{showTime(run.ended, zone, 'second')}</dd>
            </>
          )}
        </dl>
        <p className="inset sm soft">
          It goes on by itself, on the server. What it asks to be done is done once another person approves
          it.
        </p>
        <p className="inset sm">
          <Link to={`/runbooks${search}`}>All runbooks</Link>
        </p>
      </section>
      {stopping && (
        <StopRun
          failure={stop.error}
          busy={stop.isPending}
          onStop={(reason) => stop.mutate(reason)}
          onClose={() => setStopping(false)}
        />
      )}
    </>
  );
}

interface Stopping {
  readonly reason: string;
}

function StopRun({
  failure,
  busy,
  onStop,
  onClose,
}: {
  failure: Error | null;
  busy: boolean;
  onStop: (reason: string) => void;
  onClose: () => void;
}): JSX.Element {
  return (
    <FieldsDialog<Stopping>
      title="Stop the run?"
      begin={{ reason: '' }}
      onSend={({ reason }) => onStop(reason.trim())}
      send="Stop it"
      leave="Let it go on"
      isSending={busy}
      failure={failure}
      failed="It goes on"
      onClose={onClose}
    >
      <p className="sm mb-0">What it did stays done; responses it asked for still wait for approval.</p>
      <TextField<Stopping> name="reason" label="Why" autoFocus maxLength={500} />
    </FieldsDialog>
  );
}
