import {
  addIntakeRule,
  changeIntakeRule,
  forwardAgain,
  listIntakeRules,
  listTags,
  orderIntakeRules,
  putTag,
  removeIntakeRule,
  removeTag,
  tryIntakeRule,
} from '../../core/wire/endpoints/intake-rules.js';
import { handles, type Route } from '../http/route.js';
import type { IntakeRules } from './service.js';

export function intakeRuleRoutes(rules: IntakeRules): Route[] {
  return [
    handles(listIntakeRules, async () => ({ rules: await rules.all() })),
    handles(addIntakeRule, ({ body }) => rules.add(body)),
    // Fixed names before those that may be any id.
    handles(orderIntakeRules, async ({ body }) => {
      await rules.order(body.ids);
      return {};
    }),
    handles(tryIntakeRule, ({ body }) => rules.try(body)),
    handles(changeIntakeRule, ({ params, body }) => rules.change(Number(params.id), body)),
    handles(removeIntakeRule, async ({ params }) => {
      await rules.remove(Number(params.id));
      return {};
    }),
    handles(forwardAgain, async ({ params }) => {
      await rules.forwardAgain(Number(params.id));
      return {};
    }),
    handles(listTags, async () => ({ tags: await rules.tags() })),
    handles(putTag, async ({ params, body }) => {
      await rules.putTag(params.tag, body);
      return {};
    }),
    handles(removeTag, async ({ params }) => {
      await rules.removeTag(params.tag);
      return {};
    }),
  ];
}
