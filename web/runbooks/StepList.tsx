import type { JSX, ReactNode } from 'react';
import { Circle } from '@phosphor-icons/react/dist/csr/Circle';
import { ClockCountdown } from '@phosphor-icons/react/dist/csr/ClockCountdown';
import { Lightning } from '@phosphor-icons/react/dist/csr/Lightning';
import { MagnifyingGlass } from '@phosphor-icons/react/dist/csr/MagnifyingGlass';
import { Megaphone } from '@phosphor-icons/react/dist/csr/Megaphone';
import { Question } from '@phosphor-icons/react/dist/csr/Question';

const kinds = {
  hunt: { Icon: MagnifyingGlass, word: 'Hunt' },
  respond: { Icon: Lightning, word: 'Response' },
  ask: { Icon: Question, word: 'Question' },
  message: { Icon: Megaphone, word: 'Message' },
  wait: { Icon: ClockCountdown, word: 'Wait' },
} as const;

/** A step as it is shown. */
export interface ShownStep {
  readonly id: string;
  readonly title: string;
  readonly do: string;
  /** How it stands: it was done, the run is here, it lies ahead, or the run went another way. */
  readonly stands: 'done' | 'here' | 'ahead' | 'passed';
  /** At the right of its title. */
  readonly aside?: ReactNode;
  /** Below its title. */
  readonly below: ReactNode;
}

const standWords = {
  done: 'done',
  here: 'the run is here',
  ahead: 'ahead',
  passed: 'went another way',
} as const;

/** The steps of a runbook in order. */
export function StepList({ steps, label }: { steps: readonly ShownStep[]; label: string }): JSX.Element {
  return (
    <ol className="run-steps" aria-label={label}>
      {steps.map(({ id, title, do: kind, stands, aside, below }) => {
        const { Icon, word } =
          kind in kinds ? kinds[kind as keyof typeof kinds] : { Icon: Circle, word: kind };
        return (
          <li key={id} className={`run-step ${stands}`} aria-current={stands === 'here' ? 'step' : undefined}>
            <span className="bead" aria-hidden="true" />
            <div className="run-step-body">
              <div className="first-line">
                <Icon aria-hidden="true" />
                <span className="visually-hidden">
                  {word}, {standWords[stands]}:{' '}
                </span>
                <b className="grow anywhere">{title}</b>
                {aside !== undefined && <span className="xs soft nowrap">{aside}</span>}
              </div>
              {below}
            </div>
          </li>
        );
      })}
    </ol>
  );
}
