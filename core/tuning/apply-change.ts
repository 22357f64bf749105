import { isSeq, parseAllDocuments } from 'yaml';
import { formatDuration } from '../base/instant.js';
import type { Rule } from '../sigma/rule-model.js';
import { addCondition, calledOf, CutError, textOfDocuments } from './apply-cuts.js';
import { lowerBound, type RuleChange } from './changes.js';
import { selectionOf } from './cut.js';

/**
 * The text of a rule with a change in it; comments stay where they are.
 * @param rule the one that is changed, as it was read from the text
 * @throws CutError where the change has no place in the text
 */
export function withChange(text: string, change: RuleChange, rule: Rule): string {
  const documents = parseAllDocuments(text);
  if (!Array.isArray(documents)) throw new CutError('the text is empty');
  const names = [rule.id, rule.name, rule.title];
  const document = documents.find((one) => calledOf(one).some((name) => names.includes(name)));
  if (document === undefined) throw new CutError('the rule stands in another text');
  switch (change.kind) {
    case 'require':
      addCondition(document, selectionOf(change), 'only');
      break;
    case 'count': {
      const bound = rule.type === 'correlation' ? lowerBound(rule) : null;
      if (bound === null) throw new CutError('the rule has no single count to raise');
      document.setIn(['correlation', 'condition', bound.sign], change.count);
      document.setIn(['correlation', 'timespan'], formatDuration(change.timespan));
      break;
    }
    case 'group-by': {
      const fields = document.getIn(['correlation', 'group-by'], true);
      if (isSeq(fields)) fields.add(document.createNode(change.field));
      else document.setIn(['correlation', 'group-by'], [change.field]);
      break;
    }
    case 'quiet':
      document.setIn(['lamp', 'quiet'], formatDuration(change.quiet));
      break;
    case 'mark':
      document.setIn(['lamp', 'on-match'], 'mark');
      break;
    case 'level':
      document.set('level', change.level);
      break;
    case 'level-of': {
      const named = document.getIn(['lamp', 'levels', change.level], true);
      if (isSeq(named)) named.add(document.createNode(change.subject));
      else document.setIn(['lamp', 'levels', change.level], [change.subject]);
      break;
    }
  }
  return textOfDocuments(documents);
}
