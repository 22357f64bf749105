import type { Pool } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import { loadPack } from '../../core/sigma/pack.js';
import { RecipeTry } from '../recipes/try.js';
import { checkRule } from '../rules/check-rule.js';
import { RuleReading } from '../rules/reading.js';
import { RuleWords } from '../rules/words.js';
import { ruleLists } from '../rules/rule-lists.js';
import type { Checks } from './checks.js';

/** Checks in the thread that asks: what the threads do, and tests and tools. */
export function checksHere(pool: Pool, now: () => Instant, places: ListLookup | null): Checks {
  const reading = new RuleReading(pool);
  const words = new RuleWords(pool);
  const attempts = new RecipeTry(pool, now, places);
  return {
    rule: (text, id) => checkRule({ pool, reading, words, now }, text, id),
    async rules(files) {
      loadPack(
        files,
        await ruleLists(
          pool,
          files.map(({ text }) => text),
        ),
      );
    },
    recipe: (sample, document) => attempts.try(sample, document),
  };
}
