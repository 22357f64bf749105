import fc from 'fast-check';
import { eventId, recordMark } from './event-id.js';
import { Occurrences, readEarlierCopies, writeEarlierCopies } from './occurrences.js';

const plain = (text: string): string => text;
const idsOf = (records: readonly string[], counting = new Occurrences()): string[] =>
  records.map((record) => eventId('s', record, plain, counting.mark(record)));

it('keeps the id of the first, and tells those that follow apart', () => {
  expect(recordMark(0)).toBe('');
  expect(eventId('s', 'a', plain)).toBe('s\na');
  expect(new Set(idsOf(['a', 'b', 'a', 'a', 'b'])).size).toBe(5);
});

it('takes records that are kept as the same text for identical', () => {
  const counting = new Occurrences();
  expect(['a', ' a ', 'a\n', 'a\0', 'a\ufffd'].map((record) => counting.next(record))).toEqual([
    0, 1, 2, 0, 1,
  ]);
});

it('no text imitates the mark of another', () => {
  // A record as it is stored holds no NUL.
  expect(recordMark(1)).toContain('\0');
});

it('a longer copy of a delivery gives the same ids as far as it is the same', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 60 }),
      fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 20 }),
      fc.integer({ min: 1, max: 4 }),
      (records, more, remembered) => {
        const counting = (): Occurrences => new Occurrences('', plain, remembered);
        const whole = idsOf([...records, ...more], counting());
        expect(whole.slice(0, records.length)).toEqual(idsOf(records, counting()));
        // With room for all of them, every record is an event of its own.
        const all = idsOf([...records, ...more]);
        expect(new Set(all).size).toBe(all.length);
      },
    ),
  );
});

it('remembers a bounded number of different records', () => {
  const counting = new Occurrences('', plain, 2);
  expect(['a', 'a', 'b', 'c', 'd', 'e', 'f', 'a'].map((record) => counting.next(record))).toEqual([
    0, 1, 0, 0, 0, 0, 0, 0,
  ]);
});

it('a part of a delivery goes on from what its sender knows to have come before', () => {
  const parts = [
    ['a', 'b', 'a'],
    ['a', 'c', 'a', 'b'],
  ];
  const whole = idsOf(parts.flat());
  const sender = new Occurrences();
  const found = parts.flatMap((part) => {
    const earlier = new Map(
      part.flatMap((record, i) => {
        const before = sender.next(record);
        return before > 0 ? [[i, before] as const] : [];
      }),
    );
    const told = readEarlierCopies(writeEarlierCopies(earlier)) ?? new Map<number, number>();
    const counting = new Occurrences();
    return part.map((record, i) => eventId('s', record, plain, counting.mark(record, told.get(i))));
  });
  expect(found).toEqual(whole);
});

it.each(['x', '0=1', '1=', '1=2,', '1=-1', '99999999=1'])('refuses "%s" as earlier copies', (text) => {
  expect(readEarlierCopies(text)).toBeNull();
});
