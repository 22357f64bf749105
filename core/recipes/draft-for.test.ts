import { formatInstant, parseInstant } from '../base/instant.js';
import { compileRecipe } from './apply.js';
import { draftFor } from './draft-for.js';

const received = parseInstant('2026-11-14T12:00:00Z') ?? 0;
const events = (sample: string) => {
  const recipe = draftFor(sample, received);
  const compiled = compileRecipe(recipe);
  return {
    recipe,
    events: compiled.cut(sample).flatMap((raw) => {
      const outcome = compiled.apply(raw, received);
      return outcome.became === 'event'
        ? [{ ...outcome.draft, time: formatInstant(outcome.draft.time) }]
        : [];
    }),
  };
};

it('maps what names and shapes say, the usual words of outcomes with it', () => {
  const { recipe, events: made } = events(
    '{"@timestamp":"2026-11-14 08:03:12.718 CET","client":{"ip":"198.18.40.77"},"userName":"teo.marrash","result":"DENIED","deck":"4"}\n'.repeat(
      3,
    ),
  );
  expect(recipe.time).toEqual({ from: '@timestamp', as: 'yyyy-MM-dd HH:mm:ss.S z' });
  expect(made[0]).toMatchObject({
    time: '2026-11-14T07:03:12.718Z',
    src_ip: '198.18.40.77',
    user: 'teo.marrash',
    outcome: 'blocked',
  });
});

it('two addresses are a flow; a wrapped list is cut; a number is no time unless it is called so', () => {
  const flow =
    '{"Records":[{"ts":1794643200,"src_ip":"10.0.0.1","dst_ip":"203.0.113.77","dport":53},{"ts":1794643201,"src_ip":"10.0.0.1","dst_ip":"203.0.113.77","dport":53}]}';
  const { recipe, events: made } = events(flow);
  expect(recipe).toMatchObject({ records: { list: 'Records' }, time: { from: 'ts', as: 'epoch-seconds' } });
  expect(made).toHaveLength(2);
  expect(made[0]).toMatchObject({ kind: 'network', dst_port: 53 });
  expect(events('{"size":12345,"name":"x"}\n{"size":2,"name":"y"}\n').recipe.time).toMatchObject({
    otherwise: 'arrival',
  });
});

it('is never a dead end: without a time the arrival counts, and marks the event', () => {
  const { events: made } = events('hello there\nand again\n');
  expect(made).toHaveLength(2);
  expect(made[0]).toMatchObject({
    time: formatInstant(received),
    tags: ['time of arrival'],
    message: 'hello there',
  });
});
