import { bucketStart } from '../../base/instant.js';
import { HuntError } from '../hunt-error.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `fill` */
export const fillStep: StepDef<'fill'> = {
  call: 'fill',
  meaning: 'behind a tally with "every": rows for the stretches of time without any, counts and sums 0',
  example: 'tally count(), every 1h\nfill',
  traits: { ...tableTraits, afterAddedUp: true, keepsBuckets: false, heavy: false, answered: () => null },
  compile(cursor, scope, _context, place) {
    const { buckets } = scope;
    if (buckets === null)
      throw new HuntError(
        'not-allowed',
        place.span,
        '"fill" stands behind a tally with "every", such as: tally count(), every 1h. Only "where" and "sort" may stand between them.',
      );
    cursor.expectEnd('after "fill"');
    const { keys, bucket, micros, figures } = buckets;
    const { from, to } = scope.window;
    const order = [...keys, bucket].map(({ slot, type }) => ({ slot, type, descending: false }));
    return {
      body: {
        step: 'fill',
        keys,
        bucket,
        micros,
        first: bucketStart(from, micros),
        last: bucketStart(to - 1, micros),
        figures,
        order,
      },
      scope: { ...scope, order },
    };
  },
};
