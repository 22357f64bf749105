/** What somebody said of a match; `unsettled` where nobody has. */
export const judgements = ['real', 'harmless', 'wrong', 'unsure', 'unsettled'] as const;
export type Judgement = (typeof judgements)[number];

export type JudgementCounts = Readonly<Record<Judgement, number>>;

/** How much of noise a match is: what is settled as noise counts whole, what nobody knows half. */
export function noiseWeight(judgement: Judgement): number {
  switch (judgement) {
    case 'harmless':
    case 'wrong':
      return 1;
    case 'unsure':
    case 'unsettled':
      return 0.5;
    case 'real':
      return 0;
  }
}

export function countJudgements(all: Iterable<Judgement>): JudgementCounts {
  const counts = { real: 0, harmless: 0, wrong: 0, unsure: 0, unsettled: 0 };
  for (const one of all) counts[one]++;
  return counts;
}

/** The noise of some matches, weighed. */
export const noiseOf = (counts: JudgementCounts): number =>
  counts.harmless + counts.wrong + (counts.unsure + counts.unsettled) / 2;
