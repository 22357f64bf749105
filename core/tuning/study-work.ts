import type { Instant } from '../base/instant.js';
import type { PlacedHit, SweptWindow } from '../detect/sweep.js';
import type { Event } from '../events/event.js';
import type { Severity } from '../events/kinds.js';
import type { Rule, RuleSettings } from '../sigma/rule-model.js';
import { Bits } from './bits.js';
import { proposeChanges, type StudiedChange } from './changes.js';
import { likenessOf, removedOfCorrelation } from './correlated.js';
import { cutInWords, type CutCondition } from './cut.js';
import { literalsOfTask } from './propose.js';
import { proposeCuts, type HeldOut } from './proposals.js';
import type { Judgement } from './verdicts.js';
import { whereFrom, type NoiseOrigin } from './where-from.js';

/** A rule's matches as plain data, so that they can be handed to a thread. */
export interface StudyTask {
  /** An event of each match; of a correlation none: its windows tell. */
  readonly events: readonly Event[];
  readonly judged: readonly Judgement[];
  readonly times: readonly Instant[];
  readonly subjects: readonly string[];
  readonly others: readonly Event[];
  readonly othersFactor: number;
  readonly asked: readonly string[];
  /** What the rule does with its matches, and how grave it says they are. */
  readonly settings: Pick<RuleSettings, 'onMatch' | 'quiet' | 'quietPer'>;
  readonly level: Severity;
  readonly window: { readonly from: Instant; readonly to: Instant };
  /** What a correlation counted; its rules without their conditions. */
  readonly counted?: {
    readonly rules: readonly Rule[];
    readonly at: number;
    readonly hits: readonly PlacedHit<number>[];
    readonly events: readonly Event[];
    readonly windows: readonly SweptWindow<number>[];
  };
}

/** A proposal as plain data. */
export interface StudiedProposal {
  readonly all: readonly CutCondition[];
  readonly words: string;
  readonly removed: number;
  readonly removedHarmless: number;
  readonly removedUnsettled: number;
  readonly realLost: number;
  readonly heldOut: HeldOut;
  /** Places of the matches that it removes. */
  readonly places: readonly number[];
}

/** What the study of a rule comes to. */
export interface RuleStudy {
  readonly origins: readonly NoiseOrigin[];
  readonly proposals: readonly StudiedProposal[];
  readonly changes: readonly StudiedChange[];
}

/** Where a rule's matches come from, and what would cut them. Takes seconds of many: made to run in a thread. */
export function studyRule(task: StudyTask): RuleStudy {
  const { judged, times, subjects, others, othersFactor, asked, window, counted, settings, level } = task;
  const events =
    counted === undefined ? task.events : counted.windows.map((one) => likenessOf(one, counted.events));
  const bitsOf = (fits: (place: number) => boolean): Bits =>
    Bits.of(events.length, [...events.keys()].filter(fits));
  const literals = literalsOfTask({ events, others, asked });
  const proposals = proposeCuts(
    {
      literals,
      events,
      judged,
      times,
      others,
      othersFactor,
      asked,
      allowLoss: false,
      ...(counted !== undefined && {
        removes: removedOfCorrelation({ ...counted, sameTime: 'in any order' }),
      }),
    },
    window,
  );
  return {
    origins: whereFrom(events, judged, others, subjects, literals, bitsOf),
    proposals: proposals.map(({ removes, ...proposal }) => ({
      ...proposal,
      words: cutInWords(proposal),
      places: removes.members(),
    })),
    changes: proposeChanges({
      judged,
      times,
      subjects,
      settings,
      level,
      literals: counted === undefined ? literals : null,
      counted: counted === undefined ? null : { ...counted, rule: counted.rules[counted.at] },
    }),
  };
}
