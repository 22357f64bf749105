import { parseInstant } from '../base/instant.js';
import type { Event } from '../events/event.js';
import { compileRecipe } from '../recipes/apply.js';
import type { Recipe } from '../recipes/recipe-schema.js';
import { shippedRecipes } from '../recipes/shipped/index.js';
import { loadPack } from '../sigma/pack.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { usualRules, type UsualRule } from './fixtures/usual-rules.js';
import { compileVariants, variantsOf } from './log-sources.js';
import { kindLogSources, shippedLogSources } from './shipped-log-sources.js';
import { Sweeper } from './sweep.js';

const entries = [...shippedLogSources, ...kindLogSources];
const received = parseInstant('2026-11-30T12:00:00Z') ?? 0;

function recipeOf(name: string): Recipe {
  const recipe = shippedRecipes[name];
  if (recipe === undefined) throw new Error(`No recipe ${name}`);
  return recipe;
}

function ruleOf({ title, source, selection }: UsualRule): DetectionRule {
  const [category = '', product = '', service = ''] = source.split('/');
  const said = Object.entries({ category, product, service }).filter(([, word]) => word !== '');
  const { rules, refused } = loadPack([
    {
      name: title,
      text: `title: ${title}\nlevel: medium\nlogsource: {${said.map(([part, word]) => `${part}: ${word}`).join(', ')}}\ndetection:\n  s: ${selection}\n  condition: s\n`,
    },
  ]);
  const [rule] = rules;
  if (rule?.type !== 'detection') throw new Error(JSON.stringify(refused));
  return rule;
}

function eventOf({ recipe, record }: UsualRule): Event {
  const compiled = compileRecipe(recipeOf(recipe));
  const [raw = ''] = compiled.cut(`${record}\n`);
  const outcome = compiled.apply(raw, received);
  if (outcome.became !== 'event') throw new Error(JSON.stringify(outcome));
  return { ...outcome.draft, id: 'x' };
}

/** Whether a rule matches an event as a source of this recipe gives it. */
function matches(rule: DetectionRule, event: Event, recipe: string): boolean {
  const { logsource = {} } = recipeOf(recipe);
  return compileVariants(rule, entries).some(
    (variant) => variant.appliesTo({ source: 'x', logsource }) && variant.matches(event),
  );
}

it('there are forty and more rules of the usual categories', () => {
  expect(usualRules.length).toBeGreaterThanOrEqual(40);
  expect(new Set(usualRules.map(({ title }) => title)).size).toBe(usualRules.length);
});

it.each(usualRules)('$title ($source) has a home, and matches what $recipe reads', (usual) => {
  const rule = ruleOf(usual);
  expect(variantsOf(rule, entries).length).toBeGreaterThan(0);
  expect(matches(rule, eventOf(usual), usual.recipe)).toBe(true);
});

it('a rule that speaks of one sort of records is not asked of another', () => {
  const [first] = usualRules;
  const security = usualRules.find(({ source }) => source === '/windows/security');
  if (first === undefined || security === undefined) throw new Error('There are rules.');
  // The same number in another channel is another event.
  const elsewhere = { ...security, record: security.record.replace('<Channel>Security', '<Channel>System') };
  expect(matches(ruleOf(security), eventOf(elsewhere), 'os-events')).toBe(false);
  // What a sender writes into a field called Channel makes no other product of its records.
  const event: Event = {
    ...eventOf(usualRules.find(({ recipe }) => recipe === 'linux-auth') ?? first),
    original: { Channel: 'Security', EventID: '1102' },
  };
  expect(matches(ruleOf(security), event, 'linux-auth')).toBe(false);
});

it('a sweep knows which rules were asked of a record at all', () => {
  const rules = usualRules.map(ruleOf);
  const sweeper = new Sweeper(rules, recipeOf('os-events').logsource ?? {}, entries);
  const at = (source: string): number => usualRules.findIndex((one) => one.source === source);
  const [script = usualRules[0]] = usualRules.filter(({ source }) => source === 'ps_script/windows/');
  if (script === undefined) throw new Error('There is such a rule.');
  sweeper.sweep(eventOf(script), 0);
  const asked = sweeper.newlyAsked();
  expect(asked).toEqual(expect.arrayContaining([at('ps_script/windows/'), at('/windows/powershell')]));
  expect(asked).not.toContain(at('/windows/security'));
  expect(asked).not.toContain(at('dns//'));
  expect(sweeper.newlyAsked()).toEqual([]);
});
