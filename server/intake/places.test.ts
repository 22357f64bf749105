import { Failure } from '../failure.js';
import { SourcePlaces } from './places.js';

/** Work that goes on until it is let go. */
function held(
  places: SourcePlaces,
  source: string,
): { done: Promise<string>; go: () => void; began: () => boolean } {
  let began = false;
  let go = (): void => undefined;
  const gate = new Promise<void>((open) => (go = open));
  const done = places.within(source, async () => {
    began = true;
    await gate;
    return 'done';
  });
  return { done, go, began: () => began };
}

it('lets a few of a source work, a few wait, and refuses the rest, whatever others do', async () => {
  const places = new SourcePlaces({ perSource: 2, total: 8, waiting: 1 });
  const [first, second, third] = ['a', 'a', 'a'].map((source) => held(places, source));
  await expect(places.within('a', () => Promise.resolve())).rejects.toMatchObject({ code: 'busy' });
  expect([first, second, third].map((one) => one?.began())).toEqual([true, true, false]);
  // Another source has places of its own.
  await expect(places.within('b', () => Promise.resolve('stored'))).resolves.toBe('stored');
  first?.go();
  await first?.done;
  await Promise.resolve();
  expect(third?.began()).toBe(true);
  second?.go();
  third?.go();
  await expect(Promise.all([second?.done, third?.done])).resolves.toEqual(['done', 'done']);
  await expect(places.within('a', () => Promise.resolve('again'))).resolves.toBe('again');
});

it('gives the place back where the work fails, and holds to the total', async () => {
  const places = new SourcePlaces({ perSource: 2, total: 2, waiting: 0 });
  await expect(places.within('a', () => Promise.reject(new Error('broke')))).rejects.toThrow('broke');
  const [one, two] = [held(places, 'a'), held(places, 'b')];
  await expect(places.within('c', () => Promise.resolve())).rejects.toBeInstanceOf(Failure);
  one.go();
  two.go();
  await Promise.all([one.done, two.done]);
  await expect(places.within('c', () => Promise.resolve(1))).resolves.toBe(1);
});
