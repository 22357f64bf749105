import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { useNavigate } from 'react-router';
import { END, type Runbook, type Step } from '../../../core/runbooks/document.js';
import { ways } from '../../../core/runbooks/walk.js';
import { listResponses } from '../../../core/wire/endpoints/responses.js';
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
import { KeptEditor, writtenDocument } from '../../documents/KeptEditor.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { StepList } from '../../runbooks/StepList.js';
import { Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { TryRunbook } from './TryRunbook.js';

const USUAL = { show: 'steps', try: '' } as const;
const SHOWN = ['steps', 'text', 'try'] as const;
const names = { steps: 'Steps', text: 'As JSON', try: 'Try it' } as const;

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
  const responses = useQuery(answerTo(listResponses));
  const titles = new Map(responses.data?.responses.map(({ does, title }) => [does, title]));
  const [text, setText] = useState(() => writtenDocument(kept?.document ?? runbookExample));
  const show =
    kept === null ? 'text' : state.values.try !== '' ? 'try' : (oneOf(SHOWN, state.values.show) ?? 'steps');
  const keptAs = (made: StoredRunbook): void => {
    client.setQueryData(answerTo(readRunbook, { params: { name: made.name } }).queryKey, made);
    void client.invalidateQueries(about('runbooks'));
    setText(writtenDocument(made.document));
    if (kept === null) void navigate(`/runbooks/${made.name}${search}`);
  };
  const remove = useMutation({
    mutationFn: () => call(removeRunbook, { params: { name: kept?.name ?? '' } }),
    onSuccess: () => {
      void client.invalidateQueries(about('runbooks'));
      void navigate(`/runbooks${search}`);
    },
  });
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
          <StepList
            label="Steps"
            steps={shownSteps(kept.document as unknown as Runbook, (name) => titles.get(name) ?? name)}
          />
        </div>
      )}
      {show === 'text' && (
        <KeptEditor
          label="The runbook as JSON"
          kept={kept}
          text={text}
          onText={setText}
          nameHint="lost-telephone"
          mayChange={mayChange}
          fine="It can be run."
          check={(body) => call(checkRunbook, { body: { text: body } })}
          keep={async (name, body) => keptAs(await call(putRunbook, { params: { name }, body }))}
        />
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

function textOf(step: Step, titleOf: (response: string) => string): string {
  switch (step.do) {
    case 'hunt':
      return step.hunt;
    case 'respond':
      return `${titleOf(step.response)}${step.hours === undefined ? '' : `, for ${step.hours} hours`}`;
    case 'ask':
      return step.question;
    case 'message':
      return `${step.to === undefined ? 'On the alert' : `To ${step.to}`}: ${step.text}`;
    case 'wait':
      return `${step.minutes} minutes`;
  }
}

/** The steps as they are read, with where they lead besides the next one. */
const shownSteps = (runbook: Runbook, titleOf: (response: string) => string) =>
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
            <pre className="mono xs soft mb-0 anywhere">{textOf(step, titleOf)}</pre>
          ) : (
            <p className="sm soft mb-0 anywhere">{textOf(step, titleOf)}</p>
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
