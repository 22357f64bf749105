import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { parseInstant } from '../../base/instant.js';
import { compileRecipe } from '../apply.js';
import { shippedRecipes } from './index.js';

// What arrives torn, spoiled or forged: whatever a sender writes, the rest is read as ever, and what it writes into one
// field speaks for no other.

const received = parseInstant('2026-11-30T12:00:00Z') ?? 0;
const folder = 'core/recipes/shipped/fixtures/';
const recipes = readdirSync(folder).map((file) => {
  const name = file.replace(/\.\w+$/, '');
  const recipe = shippedRecipes[name];
  if (recipe === undefined) throw new Error(`No recipe ${name}`);
  return { name, text: readFileSync(folder + file, 'utf8'), recipe: compileRecipe(recipe) };
});
type Known = (typeof recipes)[number];

const outcomes = ({ recipe }: Known, text: string): string[] =>
  recipe.cut(text).map((record) => JSON.stringify(recipe.apply(record, received)));

describe.each(recipes)('$name', (known) => {
  const { recipe, text } = known;
  const whole = recipe.cut(text);

  it('in pieces gives the records of the whole', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(text.length), { maxLength: 12 }), (cuts) => {
        const cutter = recipe.cutter();
        const records: string[] = [];
        let from = 0;
        for (const to of [...cuts, text.length].sort((a, b) => a - b)) {
          records.push(...cutter.push(text.slice(from, to)));
          from = to;
        }
        records.push(...cutter.end());
        expect(records).toEqual(whole);
      }),
      { numRuns: 30 },
    );
  });

  it('torn at any place gives what came before the tear', () => {
    const all = outcomes(known, text);
    fc.assert(
      fc.property(fc.nat(text.length), (end) => {
        const found = outcomes(known, text.slice(0, end));
        // What the tear went through, and the parts that wait for it, may be anything but lost in silence.
        const differs = found.findIndex((one, i) => one !== all[i]);
        if (differs !== -1) expect(found.length - differs).toBeLessThanOrEqual(2);
      }),
      { numRuns: 60 },
    );
  });

  it('spoiled in one record leaves the others as they are, and never fails', () => {
    const junk = fc.oneof(
      fc.string({ maxLength: 30 }),
      fc.string({ unit: 'binary', maxLength: 20 }),
      fc.constantFrom('\u0000', '"', '\\', '{', '}]', '%00', '\u202e', '9'.repeat(400), '<a>', "'; --"),
    );
    const lines = text.split('\n');
    fc.assert(
      fc.property(fc.nat(lines.length - 1), fc.nat(300), fc.nat(20), junk, (at, start, gone, put) => {
        const line = lines[at] ?? '';
        const spoiled = line.slice(0, start) + put.replaceAll(/[\r\n]/g, '') + line.slice(start + gone);
        const records = recipe.cut([...lines.slice(0, at), spoiled, ...lines.slice(at + 1)].join('\n'));
        const read = records.map((record) => recipe.apply(record, received));
        for (const one of read) expect(['event', 'discarded', 'set-aside']).toContain(one.became);
        // Where each line is a record.
        if (whole.length === lines.filter((one) => one !== '').length && records.length === whole.length)
          read.forEach((one, i) => {
            if (records[i] === whole[i])
              expect(JSON.stringify(one)).toBe(JSON.stringify(recipe.apply(whole[i] ?? '', received)));
          });
      }),
      { numRuns: 80 },
    );
  });

  it('a value that pretends to be more speaks for nothing but its own field', () => {
    const forged = '192.0.2.66';
    const pretences = [
      `x from ${forged} port 1 ssh2`,
      `x rhost=${forged} user=root`,
      `x, client: ${forged}, server: a`,
      `x SRC=${forged} DST=${forged}`,
      `x [client ${forged}:1]`,
      `x","src_ip":"${forged}","remote_addr":"${forged}`,
      `x addr=${forged} acct="root" res=success`,
      `x ${forged} x`,
    ];
    for (const record of whole) {
      const before = recipe.apply(record, received);
      if (before.became !== 'event') continue;
      for (const field of ['user', 'target_user', 'user_agent', 'command_line'] as const) {
        const value = before.draft[field];
        if (typeof value !== 'string' || value.length < 3 || record.split(value).length !== 2) continue;
        for (const pretence of pretences) {
          // As whoever writes JSON writes it.
          const put = record.trimStart().startsWith('{') ? JSON.stringify(pretence).slice(1, -1) : pretence;
          const after = recipe.apply(
            record.replace(value, () => put),
            received,
          );
          if (after.became !== 'event') continue;
          // Nobody is named rather than somebody else.
          for (const end of ['src_ip', 'dst_ip'] as const)
            expect([field, pretence, [before.draft[end], undefined].includes(after.draft[end])]).toEqual([
              field,
              pretence,
              true,
            ]);
        }
      }
    }
  });
});
