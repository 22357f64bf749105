import { PersonPlaces } from './person-places.js';

const signal = new AbortController().signal;

it('lets a few of a person run, the others wait in turn, and passes over who has no room', async () => {
  const places = new PersonPlaces({ perPerson: 2, total: 3, waiting: 2 });
  const leaveFirst = await places.take('ines', signal);
  const leaveSecond = await places.take('ines', signal);
  const third = places.enter('ines');
  expect(third.before).toBe(1);
  // Somebody else has a place although one waits before.
  const other = places.enter('teo');
  expect(other.before).toBe(0);
  const late = places.enter('runa');
  expect(late.before).toBe(2);
  leaveSecond();
  await third.taken;
  expect([third.before, late.before]).toEqual([0, 1]);
  other.leave();
  await late.taken;
  expect(late.before).toBe(0);
  leaveFirst();
  third.leave();
  late.leave();
  await expect(places.take('ines', signal)).resolves.toBeInstanceOf(Function);
});

it('refuses more waiting of one person than may, and of nobody else', () => {
  const places = new PersonPlaces({ perPerson: 1, total: 5, waiting: 1 });
  places.enter('ines');
  places.enter('ines');
  expect(() => places.enter('ines')).toThrow('1 of your questions wait already');
  expect(places.enter('teo').before).toBe(0);
});

it('who goes away while waiting leaves no gap, and a place is given back once', async () => {
  const places = new PersonPlaces({ perPerson: 1, total: 1, waiting: 5 });
  const leave = await places.take('ines', signal);
  const away = new AbortController();
  const waiting = places.take('teo', away.signal);
  const behind = places.enter('runa');
  expect(behind.before).toBe(2);
  const moved = behind.changed();
  away.abort();
  await expect(waiting).rejects.toMatchObject({ code: 'stopped' });
  await moved;
  expect(behind.before).toBe(1);
  leave();
  leave();
  await behind.taken;
  expect(places.enter('joris').before).toBe(1);
});
