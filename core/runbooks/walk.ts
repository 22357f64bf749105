import { END, type Runbook, type Step } from './document.js';

/** How a step ended. */
export type Outcome =
  | { readonly step: 'hunt'; readonly found: boolean }
  | { readonly step: 'respond'; readonly done: boolean }
  | { readonly step: 'ask'; readonly answer: number }
  | { readonly step: 'over' };

/** Where a step says that it goes on after each of its outcomes; absent means the next step. */
export function ways(step: Step): readonly (readonly [words: string, to: string | undefined])[] {
  switch (step.do) {
    case 'hunt':
      return [
        ['rows are found', step.found],
        ['nothing is found', step.nothing],
      ];
    case 'respond':
      return [
        ['it was done', step.done],
        ['it was refused or failed', step.refused],
      ];
    case 'ask':
      return step.answers.map(({ says, go }) => [says, go] as const);
    case 'message':
    case 'wait':
      return [['then', step.go]];
  }
}

const wayOf = (step: Step, outcome: Outcome): string | undefined => {
  const [first, second] = ways(step);
  switch (outcome.step) {
    case 'hunt':
      return (outcome.found ? first : second)?.[1];
    case 'respond':
      return (outcome.done ? first : second)?.[1];
    case 'ask':
      return ways(step)[outcome.answer]?.[1];
    case 'over':
      return first?.[1];
  }
};

/** The step after one; null at the end. */
export function stepAfter({ steps }: Runbook, step: Step, outcome: Outcome): Step | null {
  const way = wayOf(step, outcome);
  const at = steps.findIndex(({ id }) => id === step.id);
  if (way === END) return null;
  return (way === undefined ? steps[at + 1] : steps.find(({ id }, i) => id === way && i > at)) ?? null;
}
