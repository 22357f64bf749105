import type { Runbook, Step } from '../../core/runbooks/document.js';
import { fillNames, namesOf, type NamedAlert } from '../../core/runbooks/names.js';
import { type Outcome, stepAfter } from '../../core/runbooks/walk.js';
import type { FoundRows, RunbookTried } from '../../core/wire/runbooks.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import { requestOf } from '../deliver/respond.js';
import type { Responses } from '../deliver/responses.js';
import { askHunt, foundWords, type HuntParts } from './ask-hunt.js';

interface Tried {
  readonly says: string;
  readonly found: FoundRows | null;
  /** As it would end, with the first answer of a question, and everything approved. */
  readonly outcome: Outcome;
}

const wait = (minutes: number): string => (minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`);

/** Tries a runbook on an alert: its hunts are asked, nothing is sent, and every step says what it would do. */
export async function tryRunbook(
  parts: HuntParts & { readonly responses: Responses },
  runbook: Runbook,
  alert: NamedAlert,
  signal: AbortSignal,
): Promise<RunbookTried> {
  const names = namesOf(alert);
  const steps: RunbookTried['steps'] = [];
  let next: Step | null = runbook.steps[0] ?? null;
  for (const step of runbook.steps) {
    const tried = await tryStep(parts, step, names, signal);
    const on = next?.id === step.id;
    if (on) next = stepAfter(runbook, step, tried.outcome);
    steps.push({ id: step.id, title: step.title, do: step.do, on, says: tried.says, found: tried.found });
  }
  return { steps };
}

async function tryStep(
  parts: HuntParts & { readonly responses: Responses },
  step: Step,
  names: Readonly<Record<string, string>>,
  signal: AbortSignal,
): Promise<Tried> {
  switch (step.do) {
    case 'hunt':
      try {
        const found = await askHunt(parts, step, names, 'screen', signal);
        return { says: foundWords(found), found, outcome: { step: 'hunt', found: found.rows.length > 0 } };
      } catch (error) {
        if (!(error instanceof HuntError)) throw error;
        return {
          says: `It cannot be asked: ${error.message}`,
          found: null,
          outcome: { step: 'hunt', found: false },
        };
      }
    case 'respond': {
      const response = await parts.responses.book.find(step.response);
      const subject = response === null ? undefined : names[response.on];
      const outcome: Outcome = { step: 'respond', done: subject !== undefined };
      if (response === null || subject === undefined)
        return { says: `The alert names no ${response?.on ?? 'subject'} for it.`, found: null, outcome };
      const carrier = await parts.responses.carrier(response.to);
      const request = requestOf(response, { subject }, carrier?.address ?? '', 'NUMBER');
      const says = `would ask for: ${response.title} of ${subject}; once another approves it, ${
        carrier === null
          ? 'nobody is set up to carry it out'
          : response.to === 'lists'
            ? `it is done here: ${request?.address ?? ''}`
            : `${request?.method ?? ''} ${request?.address ?? ''}`
      }`;
      return { says, found: null, outcome };
    }
    case 'ask':
      return {
        says: `would ask: ${fillNames(step.question, names)} (${step.answers.map(({ says }) => says).join(' / ')})`,
        found: null,
        outcome: { step: 'ask', answer: 0 },
      };
    case 'message':
      return {
        says: `would say ${step.to === undefined ? 'on the alert' : `to ${step.to}`}: ${fillNames(step.text, names)}`,
        found: null,
        outcome: { step: 'over' },
      };
    case 'wait':
      return { says: `would wait for ${wait(step.minutes)}`, found: null, outcome: { step: 'over' } };
  }
}
