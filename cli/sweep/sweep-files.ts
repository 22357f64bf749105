import { readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { RuleFile } from '../../core/sigma/pack.js';
import { shippedRecipes } from '../../core/recipes/shipped/index.js';
import { UsageError } from '../usage.js';

/** All files below the paths, folders walked in the order of names. @throws UsageError for what is not there */
export function filesBelow(paths: readonly string[], fits: (name: string) => boolean): string[] {
  const found: string[] = [];
  const walk = (path: string, named: boolean): void => {
    const state = statSync(path, { throwIfNoEntry: false });
    if (state === undefined) throw new UsageError(`There is nothing at ${path}.`);
    if (state.isDirectory()) for (const name of readdirSync(path).sort()) walk(join(path, name), false);
    else if (state.isFile() && (named || fits(path))) found.push(path);
  };
  for (const path of paths) walk(path, true);
  return found;
}

/** The texts of rules at some paths. @throws UsageError */
export const readRuleFiles = (paths: readonly string[]): RuleFile[] =>
  filesBelow(paths, (name) => /\.ya?ml$/i.test(name)).map((name) => ({
    name,
    text: readFileSync(name, 'utf8'),
  }));

/** The text of a recipe: a file of its own, or one that ships, by its name. @throws UsageError */
export function readRecipeText(name: string): string {
  if (Object.hasOwn(shippedRecipes, name)) return JSON.stringify(shippedRecipes[name]);
  const ofDemo = join(dirname(fileURLToPath(import.meta.url)), '..', 'demo', 'recipes', `${name}.json`);
  for (const path of [name, ofDemo])
    if (statSync(path, { throwIfNoEntry: false })?.isFile() === true) return readFileSync(path, 'utf8');
  throw new UsageError(
    `--recipe: there is neither a file nor a shipped recipe "${name}". There are ${Object.keys(shippedRecipes).join(', ')}.`,
  );
}
