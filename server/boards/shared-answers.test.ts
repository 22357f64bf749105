import { SECOND } from '../../core/base/instant.js';
import { SharedAnswers } from './shared-answers.js';

interface Counted {
  readonly n: number;
  readonly whole: boolean;
}

let now = 0;
let asked = 0;
const stopped: boolean[] = [];
let gates: (() => void)[] = [];

/** Gives two pieces, the second once it is let go on. */
async function* count(signal: AbortSignal): AsyncGenerator<Counted> {
  asked++;
  yield { n: 1, whole: false };
  await new Promise<void>((go) => {
    gates.push(go);
    signal.addEventListener('abort', () => go());
  });
  stopped.push(signal.aborted);
  if (!signal.aborted) yield { n: 2, whole: true };
}
const answers = new SharedAnswers<Counted>(() => now, {
  weigh: ({ n }) => n,
  replaces: (piece) => piece.whole,
});
const open = { refresh: 60, state: null };
const never = new AbortController().signal;

async function all(key: string, validity = open, signal = never, fresh = false): Promise<string[]> {
  const found: string[] = [];
  for await (const { piece, kept } of answers.answer(key, validity, count, signal, fresh))
    found.push(`${piece.n}${kept ? ' kept' : ''}`);
  return found;
}
/** Lets what waits go on, once somebody counts. */
async function goOn(): Promise<void> {
  while (gates.length === 0) await new Promise((go) => setImmediate(go));
  for (const go of gates) go();
  gates = [];
}
beforeEach(() => {
  asked = 0;
  stopped.length = 0;
});

it('fifty who ask the same cost as much as one; whoever comes late gets what holds by then', async () => {
  const waiting = Array.from({ length: 50 }, () => all('same'));
  await goOn();
  expect((await Promise.all(waiting)).every((one) => one.join() === '1,2')).toBe(true);
  expect(asked).toBe(1);
  // What a later piece took the place of is not given again.
  expect(await all('same')).toEqual(['2 kept']);
  expect(answers.size.running).toBe(0);
});

it('is counted anew once it is as old as it may be, or when somebody asks for it', async () => {
  now += 59 * SECOND;
  expect(await all('same')).toEqual(['2 kept']);
  now += 2 * SECOND;
  const again = all('same');
  await goOn();
  expect(await again).toEqual(['1', '2']);
  const fresh = all('same', open, never, true);
  await goOn();
  expect(await fresh).toEqual(['1', '2']);
  expect(asked).toBe(2);
});

it('of a window that has ended it holds until something came into it, however old it is', async () => {
  const first = all('closed', { refresh: 60, state: '3 events' } as never);
  await goOn();
  await first;
  now += 3600 * SECOND;
  expect(await all('closed', { refresh: 60, state: '3 events' } as never)).toEqual(['2 kept']);
  const late = all('closed', { refresh: 60, state: '4 events' } as never);
  await goOn();
  expect(await late).toEqual(['1', '2']);
});

it('what nobody waits for any longer is stopped; another who waits keeps it going', async () => {
  const [one, other] = [new AbortController(), new AbortController()];
  const both = [all('left', open, one.signal), all('left', open, other.signal)];
  while (gates.length === 0) await new Promise((go) => setImmediate(go));
  one.abort();
  expect(await both[0]).toEqual(['1']);
  expect(stopped).toEqual([]);
  other.abort();
  expect(await both[1]).toEqual(['1']);
  await new Promise((go) => setImmediate(go));
  expect(stopped).toEqual([true]);
  expect(answers.size.running).toBe(0);
  gates = [];
  // Nothing of what was stopped is kept.
  const anew = all('left');
  await goOn();
  expect(await anew).toEqual(['1', '2']);
});

it('a failure is told to all who wait, and not kept', async () => {
  const ask = async function* (): AsyncGenerator<Counted> {
    asked++;
    await Promise.resolve();
    yield { n: 1, whole: false };
    throw new Error('refused');
  };
  const read = async (): Promise<void> => {
    for await (const _ of answers.answer('bad', open, ask, never)) void _;
  };
  const told = await Promise.allSettled([read(), read()]);
  expect(told.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
  expect(asked).toBe(1);
  await expect(read()).rejects.toThrow('refused');
});

it('keeps so much and no more: what was used longest ago goes', async () => {
  const small = new SharedAnswers<Counted>(() => now, { weigh: () => 30_000_000, replaces: () => false });
  const one = async function* (): AsyncGenerator<Counted> {
    await Promise.resolve();
    yield { n: 1, whole: true };
  };
  const use = async (key: string): Promise<boolean> => {
    let kept = false;
    for await (const piece of small.answer(key, open, one, never)) kept = piece.kept;
    return kept;
  };
  for (const key of ['a', 'b', 'a', 'c']) await use(key);
  expect(small.size.kept).toBe(2);
  expect([await use('a'), await use('b')]).toEqual([true, false]);
});

it('what is asked for afresh does not join what began before; fifty who ask so wait for one', async () => {
  const before = all('again');
  while (gates.length === 0) await new Promise((go) => setImmediate(go));
  now += SECOND;
  const afresh = Array.from({ length: 50 }, () => all('again', open, never, true));
  expect(asked).toBe(1);
  await goOn();
  expect(await before).toEqual(['1', '2']);
  await goOn();
  expect((await Promise.all(afresh)).every((one) => one.join() === '1,2')).toBe(true);
  expect(asked).toBe(2);
  // What is kept is the later one: it still holds when the earlier would not.
  now += 59 * SECOND + SECOND / 2;
  expect(await all('again')).toEqual(['2 kept']);
  expect(answers.size.running).toBe(0);
});

it('what is to begin next does not where nobody waits for it any longer', async () => {
  const leaves = new AbortController();
  const before = all('never begun');
  while (gates.length === 0) await new Promise((go) => setImmediate(go));
  const afresh = all('never begun', open, leaves.signal, true);
  leaves.abort();
  expect(await afresh).toEqual([]);
  await goOn();
  await before;
  await new Promise((go) => setImmediate(go));
  expect(asked).toBe(1);
  expect(answers.size.running).toBe(0);
});

it('what is asked for afresh begins at once where those who waited for the one before have left', async () => {
  const leaves = new AbortController();
  const before = all('left behind', open, leaves.signal);
  while (gates.length === 0) await new Promise((go) => setImmediate(go));
  const afresh = all('left behind', open, never, true);
  gates = [];
  leaves.abort();
  await before;
  await goOn();
  expect(await afresh).toEqual(['1', '2']);
  expect(asked).toBe(2);
});
