import type { Severity } from '../events/kinds.js';
import { foldKey } from '../lists/list-match.js';
import type { Head, LevelOf } from '../sigma/rule-model.js';
import type { Subject } from '../detect/subject.js';

/** A rule with subjects by their folded names; made once for each. */
const known = new WeakMap<readonly LevelOf[], ReadonlyMap<string, Severity>>();

function byName(levels: readonly LevelOf[]): ReadonlyMap<string, Severity> {
  let found = known.get(levels);
  if (found === undefined) {
    const made = new Map<string, Severity>();
    for (const { level, of } of levels)
      for (const name of of) if (!made.has(foldKey(name))) made.set(foldKey(name), level);
    found = made;
    known.set(levels, found);
  }
  return found;
}

/** The severity of an alert of a rule about a subject: that of the subject where the rule names it, else the rule's. */
export function levelOf(
  { level, settings }: Pick<Head, 'level' | 'settings'>,
  subject: Pick<Subject, 'text' | 'fields'>,
): Severity {
  if (settings.levels.length === 0) return level;
  const names = byName(settings.levels);
  for (const name of [subject.text, ...Object.values(subject.fields)]) {
    const own = names.get(foldKey(name));
    if (own !== undefined) return own;
  }
  return level;
}
