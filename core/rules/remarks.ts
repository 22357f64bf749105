import { isColumnName } from '../events/columns.js';
import { columnNames } from '../events/columns.js';
import { nearestWord } from '../base/text-distance.js';
import type { HuntRule, Rule } from '../sigma/rule-model.js';
import { techniqueOf } from '../sigma/techniques.js';

/** Something worth knowing about a rule that is no mistake. */
export interface Remark {
  readonly line: number;
  readonly message: string;
}

const TACTIC = /^attack\.[a-z][a-z_-]*$/;

/** What a rule lacks that its readers will miss. @param seen whether an event of late had a field of a source's own */
export function remarksOn(rule: Rule | HuntRule, seen: (field: string) => boolean): Remark[] {
  const found: Remark[] = [];
  const say = (message: string): void => void found.push({ line: rule.line, message });
  if (rule.falsePositives.length === 0)
    say('no "falsepositives" are given: say what harmless thing looks alike');
  if (!rule.tags.some((tag) => techniqueOf(tag) !== null))
    say('no technique is named: add a tag such as attack.t1110.003');
  for (const tag of rule.tags)
    if (tag.startsWith('attack.') && techniqueOf(tag) === null && !TACTIC.test(tag))
      say(`"${tag}" is no technique: write it as attack.t1110.003`);
  if (rule.settings.tests.length === 0) say('no test is kept with it: give an event that it must match');
  if (rule.type === 'detection')
    for (const field of rule.fields)
      if (!isColumnName(field) && !seen(field)) {
        const nearest = nearestWord(field, columnNames);
        say(
          `no event of late had a field "${field}"${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
        );
      }
  return found;
}
