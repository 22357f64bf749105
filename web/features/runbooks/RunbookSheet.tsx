import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { END, type Runbook, type Step } from '../../../core/runbooks/document.js';
import { labelOf } from '../../../core/responses/shipped.js';
import { ways } from '../../../core/runbooks/walk.js';
import {
  checkRunbook,
  putRunbook,
  readRunbook,
  removeRunbook,
} from '../../../core/wire/endpoints/runbooks.js';
import { runbookExample } from '../../../core/wire/examples.js';
import type { StoredRunbook } from '../../../core/wire/runbooks.js';
import { about, answerTo, call } from '../../api/call.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { CurlLink } from '../../kit/Curl.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { StepList } from '../../runbooks/StepList.js';
import { DocumentEditor } from '../../ui/DocumentEditor.js';
import { Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { TryRunbook } from './TryRunbook.js';

const USUAL = { show: 'steps', try: '' } as const;
const SHOWN = ['steps', 'text', 'try'] as const;
const names = { steps: 'Steps', text: 'As JSON', try: 'Try it' } as const;

const written = (document: unknown): string => `${JSON.stringify(document, null, 2)}\n`;

/** One runbook: its steps, its text, and what it would do. @param name null for a new one */
export function RunbookSheet({
  name,
  search,
  mayChange,
}: {
  name: string | null;
  search: string;
  mayChange: boolean;
}): JSX.Element {
  const stored = useQuery({
    ...answerTo(readRunbook, { params: { name: name ?? '' } }),
    enabled: name !== null,
  });
  if (name !== null && stored.data === undefined)
    return (
      <section className="sheet" aria-label="Runbook">
        {stored.isError ? (
          <Failed title="The runbook cannot be shown">{stored.error.message}</Failed>
        ) : (
          <Reading title="Fetching the runbook" />
        )}
      </section>
    );
  return <OneRunbook kept={stored.data ?? null} search={search} mayChange={mayChange} />;
}

function OneRunbook({
  kept,
  search,
  mayChange,
}: {
  kept: StoredRunbook | null;
  search: string;
  mayChange: boolean;
}): JSX.Element {
  const client = useQueryClient();
  const navigate = useNavigate();
  const state = useAddressState(USUAL);
  const [text, setText] = useState(() => written(kept?.document ?? runbookExample));
  const [name, setName] = useState('');
  const wanted = kept?.name ?? name.trim();
  const show =
    kept === null ? 'text' : state.values.try !== '' ? 'try' : (oneOf(SHOWN, state.values.show) ?? 'steps');
  const differs = kept === null || text !== written(kept.document);
  const check = useMutation({ mutationFn: () => call(checkRunbook, { body: { text } }) });
  const mistakes = check.data?.mistakes ?? [];
  const keep = useMutation({
    mutationFn: () =>
      call(putRunbook, {
        params: { name: wanted },
        body: { text, ...(kept !== null && { basedOn: kept.version }) },
      }),
    onSuccess: (made) => {
      client.setQueryData(answerTo(readRunbook, { params: { name: made.name } }).queryKey, made);
      void client.invalidateQueries(about('runbooks'));
      setText(written(made.document));
      if (kept === null) void navigate(`/runbooks/${made.name}${search}`);
    },
  });
  const remove = useMutation({
    mutationFn: () => call(removeRunbook, { params: { name: wanted } }),
    onSuccess: () => {
      void client.invalidateQueries(about('runbooks'));
      void navigate(`/runbooks${search}`);
    },
  });
  const tryToKeep = async (): Promise<void> => {
    const { mistakes: found } = await check.mutateAsync();
    if (found.length === 0 && /^[a-z0-9][a-z0-9-]{0,59}$/.test(wanted)) keep.mutate();
  };
  return (
    <section className="sheet" aria-label="Runbook">
      <div className="sheet-head pb-1">
        <h2 className="sheet-title grow anywhere">{kept?.title ?? 'A new runbook'}</h2>
        {mayChange && kept !== null && kept.version > 0 && (
          <RemoveButton
            label={kept.ships ? 'Back to how it came' : 'Remove'}
            what={`the runbook ${kept.title}`}
            consequence="Runs that have begun go on with the text they began with."
            onRemove={() => remove.mutate()}
          />
        )}
      </div>
      {kept !== null && (
        <>
          <p className="inset sm soft mb-1 anywhere">{kept.about}</p>
          <Tabs
            className="inset"
            label="What is shown of the runbook"
            names={SHOWN}
            chosen={show}
            onChoose={(one) => state.put({ show: one, try: '' })}
            show={(one) => names[one]}
          />
        </>
      )}
      {show === 'steps' && kept !== null && (
        <div className="scrolls" role="region" aria-label="Steps of the runbook" tabIndex={0}>
          <StepList label="Steps" steps={shownSteps(kept.document as unknown as Runbook)} />
        </div>
      )}
      {show === 'text' && (
        <div className="runbook-text">
          {kept === null && (
            <Form.Group controlId="runbook-name" className="inset py-1">
              <Form.Label className="sm mb-0">Name in addresses</Form.Label>
              <Form.Control
                size="sm"
                autoFocus
                className="mono"
                placeholder="lost-telephone"
                maxLength={60}
                value={name}
                isInvalid={name !== '' && !/^[a-z0-9][a-z0-9-]{0,59}$/.test(name.trim())}
                onChange={(event) => setName(event.target.value)}
              />
              <Form.Control.Feedback type="invalid">Small letters, digits and “-”.</Form.Control.Feedback>
            </Form.Group>
          )}
          <DocumentEditor
            language="json"
            label="The runbook as JSON"
            text={text}
            mistake={mistakes[0] ?? null}
            readOnly={!mayChange}
            onChange={setText}
            onKeep={() => void tryToKeep()}
          />
          {mistakes.length > 0 && (
            <ul className="card-mistake inset" role="alert">
              {mistakes.map(({ line, column, message }) => (
                <li key={`${line} ${column} ${message}`}>
                  Line {line}, column {column}: {message}
                </li>
              ))}
            </ul>
          )}
          {check.isSuccess && mistakes.length === 0 && !differs && (
            <p className="inset sm soft mb-1" role="status">
              {keep.isSuccess ? 'Kept.' : 'It can be run.'}
            </p>
          )}
          {keep.isError && <Failed title="It was not kept">{keep.error.message}</Failed>}
          {mayChange && (
            <div className="inset py-2 d-flex gap-2 align-items-center">
              <Button
                variant="primary"
                disabled={!differs || wanted === '' || keep.isPending}
                onClick={() => void tryToKeep()}
              >
                Keep it
              </Button>
              <Button variant="outline-secondary" onClick={() => check.mutate()}>
                Check it
              </Button>
              {kept !== null && kept.versions.length > 1 && (
                <Form.Select
                  size="sm"
                  className="w-auto"
                  aria-label="Take the text of a version"
                  value=""
                  onChange={(event) => {
                    const one = kept.versions.find(({ version }) => String(version) === event.target.value);
                    if (one !== undefined) setText(written(one.document));
                  }}
                >
                  <option value="">Earlier versions…</option>
                  {kept.versions.map(({ version, changedBy }) => (
                    <option key={version} value={version}>
                      {version}, {changedBy}
                    </option>
                  ))}
                </Form.Select>
              )}
            </div>
          )}
        </div>
      )}
      {show === 'try' && (
        <TryRunbook
          text={text}
          search={search}
          alert={state.values.try}
          onAlert={(one) => state.put({ try: one, show: 'try' })}
        />
      )}
      <div className="sheet-foot">
        <span>Started from an alert or a case. It goes on by itself, and asks before anything is done.</span>
        <span className="grow" />
        {kept !== null && <CurlLink path={`/runbooks/${kept.name}`} />}
      </div>
    </section>
  );
}

const goal = (runbook: Runbook, to: string): string =>
  to === END ? 'the end' : (runbook.steps.find(({ id }) => id === to)?.title ?? to);

function textOf(step: Step): string {
  switch (step.do) {
    case 'hunt':
      return step.hunt;
    case 'respond':
      return `${labelOf(step.response)}${step.hours === undefined ? '' : `, for ${step.hours} hours`}`;
    case 'ask':
      return step.question;
    case 'message':
      return `${step.to === undefined ? 'On the alert' : `To ${step.to}`}: ${step.text}`;
    case 'wait':
      return `${step.minutes} minutes`;
  }
}

/** The steps as they are read, with where they lead besides the next one. */
const shownSteps = (runbook: Runbook) =>
  runbook.steps.map((step) => {
    const leads = ways(step).filter(([, to]) => to !== undefined);
    return {
      id: step.id,
      title: step.title,
      do: step.do,
      stands: 'ahead' as const,
      below: (
        <>
          {step.do === 'hunt' ? (
            <pre className="mono xs soft mb-0 anywhere">{textOf(step)}</pre>
          ) : (
            <p className="sm soft mb-0 anywhere">{textOf(step)}</p>
          )}
          {leads.length > 0 && (
            <p className="xs mb-0">
              {leads.map(([words, to]) => `${words} → ${goal(runbook, to ?? END)}`).join(' · ')}
            </p>
          )}
        </>
      ),
    };
  });
