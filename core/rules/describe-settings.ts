import { formatDuration } from '../base/instant.js';
import type { HuntRule, RuleSettings } from '../sigma/rule-model.js';
import { describeAction } from '../sigma/actions.js';
import { signWords } from '../sigma/describe.js';

/** What becomes of a rule's matches, in plain words. */
export function describeSettings({
  onMatch,
  subject,
  quiet,
  quietPer,
  levels,
  actions,
}: RuleSettings): string {
  if (onMatch === 'count') return 'is only counted by other rules';
  if (onMatch === 'mark') return 'marks its events and raises no alert';
  const about = subject === null ? 'subject' : subject.join(' and ');
  const gathers =
    quiet === 0
      ? 'raises an alert, which gathers matches until it is settled'
      : `raises an alert, which gathers further matches for ${formatDuration(quiet)}, settled or not`;
  const own = levels.map(({ level, of }) => `; severity ${level} about ${of.join(', ')}`).join('');
  const done = actions.length === 0 ? '' : `. With each alert: ${actions.map(describeAction).join('; ')}`;
  return `${gathers}; ${quietPer === 'any' ? 'one at a time, whatever it is about' : `one a ${about}`}${own}${done}`;
}

/** When a hunt runs and what it tells, in plain words. */
export function describeHunt({ runs, over, lateness, trigger, tells }: HuntRule): string {
  if (runs.how === 'live') return 'as it happens: every event that the hunt keeps is a match';
  const when =
    runs.how === 'every'
      ? `every ${formatDuration(runs.micros)}`
      : `by the clock "${runs.expression}", ${runs.zone}`;
  const late = lateness === 0 ? '' : `, up to ${formatDuration(lateness)} before`;
  const measured = {
    rows: 'its rows are',
    subjects: 'its different subjects are',
    sources: 'its different sources are',
    column: `${trigger.column ?? ''} is`,
  }[trigger.of];
  const counts = trigger.condition.map(({ sign, count }) => `${signWords[sign]} ${count}`).join(' and ');
  const { change } = trigger;
  const changes =
    change === null
      ? ''
      : `${counts === '' ? '' : ' and '}${change.by}${change.unit === '%' ? ' %' : ''} ${change.way === 'rises' ? 'more' : 'fewer'} than in the run before`;
  return `the hunt runs ${when} over ${formatDuration(over)}${late}; it tells ${tells === 'run' ? 'once' : 'row by row'} where ${measured} ${counts}${changes}`;
}
