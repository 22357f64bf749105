import type { HuntColumn } from '../../../core/wire/hunts.js';
import { endsOf, toldJourneys } from './told-journeys.js';

const column = (name: string, type: HuntColumn['type'] = 'text'): HuntColumn => ({ name, type, field: null });
const columns = [
  column('ended', 'time'),
  column('user'),
  column('from_city'),
  column('to_city'),
  column('km', 'number'),
  column('began', 'time'),
];
const row = (from: string | null, to: string | null, km: number | null, began: string, ended: string) => [
  ended,
  'teo.marrash',
  from,
  to,
  km,
  began,
];

it('journeys are told with how far and how long, each pair of cities once', () => {
  expect(
    toldJourneys(columns, [
      row('Stavik', 'Pell Harbour', 3935.4, '2026-11-14T07:38:00Z', '2026-11-14T07:58:00Z'),
      row('Stavik', 'Pell Harbour', 3935.4, '2026-11-14T08:00:00Z', '2026-11-14T08:21:00Z'),
      // Back again, slower.
      row('Pell Harbour', 'Stavik', 3935.4, '2026-11-14T08:00:00Z', '2026-11-14T11:00:00Z'),
      row('Pell Harbour', 'Brannoch', 3000, '2026-11-14T08:00:00Z', '2026-11-14T11:00:00Z'),
      row(null, 'Stavik', 12, '2026-11-14T08:00:00Z', '2026-11-14T11:00:00Z'),
      row('Brannoch', 'Stavik', null, '', ''),
    ]),
  ).toEqual([
    { from: 'Stavik', to: 'Pell Harbour', words: '3,935 km, 20 min' },
    { from: 'Pell Harbour', to: 'Brannoch', words: '3,000 km, 3 h' },
    { from: 'Brannoch', to: 'Stavik', words: '' },
  ]);
  expect(toldJourneys([], [[]])).toEqual([]);
});

it('no more are drawn than can be told apart', () => {
  const many = Array.from({ length: 40 }, (_, i) =>
    row(`a${i}`, `b${i}`, 1000, '2026-11-14T07:38:00Z', '2026-11-14T07:58:00Z'),
  );
  expect(toldJourneys(columns, many)).toHaveLength(6);
});

it('a journey is drawn where the map knows both of its ends, by the whole name of the city', () => {
  const place = (name: string) => ({ lat: 1, lon: 2, name, events: 1, row: 0 });
  const places = [place('Pell Harbour, Canada'), place('Stavik, Norway'), place('Orrin')];
  const ends = (from: string, to: string): unknown => {
    const found = endsOf({ from, to, words: '' }, places);
    return found === null ? null : [found.from.name, found.to.name];
  };
  expect(ends('Stavik', 'Pell Harbour')).toEqual(['Stavik, Norway', 'Pell Harbour, Canada']);
  expect(ends('Orrin', 'Stavik')).toEqual(['Orrin', 'Stavik, Norway']);
  expect(ends('Pell', 'Stavik')).toBeNull();
  expect(ends('Stavik', 'Nowhere')).toBeNull();
});
