import fc from 'fast-check';
import { join } from './conditions.js';
import { countedTally, eventStep, from, tally } from './steps.js';
import { afterThroughTime, keptDebut, thereAndBack, throughTime } from './steps-through-time.js';

// Whole hunts, put together from the steps.

const afterTally = (columns: readonly string[]): fc.Arbitrary<string[]> => {
  const column = fc.constantFrom(...columns);
  return fc.array(
    fc.oneof(
      join('where ', column, fc.constantFrom(' is not null', ' > 1', " != '7'", " like '%a%'")).filter(
        (text) => !text.startsWith('where k') || !/[>=]/.test(text),
      ),
      join('sort ', column, fc.constantFrom('', ' desc')),
      fc.constant('first 4'),
      join('set c2 = concat(', column, ", '-')"),
    ),
    { maxLength: 3 },
  );
};

/** Hunts that are well formed; the odd one that the checker refuses is no use for comparing engines. */
export const hunts: fc.Arbitrary<string> = fc
  .tuple(
    from,
    fc.array(eventStep, { maxLength: 4 }),
    fc.oneof(
      { weight: 2, arbitrary: fc.constant(null) },
      { weight: 3, arbitrary: tally.map((made) => ({ ...made, how: 'tally' as const })) },
      { weight: 5, arbitrary: throughTime.map((made) => ({ ...made, how: 'time' as const })) },
      {
        weight: 2,
        arbitrary: countedTally.map(({ where, text }) => ({
          text: `${where}\n${text}`,
          columns: ['n'],
          how: 'counts' as const,
        })),
      },
      { weight: 1, arbitrary: keptDebut.map((made) => ({ ...made, how: 'whole' as const })) },
      {
        weight: 1,
        arbitrary: thereAndBack.map((text) => ({
          text,
          columns: ['id', 'time', 'user'],
          how: 'time' as const,
        })),
      },
    ),
  )
  .chain(([first, steps, table]) =>
    (table === null
      ? fc
          .constantFrom<string[][]>(
            ['show time, user, message, bytes_out, tags, original.x, src_ip, raw'],
            [],
          )
          .map((end) => end)
      : table.how === 'counts'
        ? fc.constantFrom([table.text], [table.text, 'sort n desc'])
        : (table.how === 'tally' ? afterTally : afterThroughTime)(table.columns).map((after) => [
            table.text,
            ...after,
          ])
    ).map((end) =>
      [
        ...(table?.how === 'whole' ? [] : [first]),
        ...(table?.how === 'counts' || table?.how === 'whole' ? [] : steps),
        ...end,
      ].join('\n'),
    ),
  );
