import type { HuntColumn } from '../../../core/wire/hunts.js';
import { compileHunt } from '../../../core/wick/compile.js';
import { mapHunt, placeRows } from './places.js';
import { placesOf } from './shape.js';
import { viewsOf } from './views.js';

const column = (
  name: string,
  type: HuntColumn['type'] = 'text',
  field: string | null = name,
): HuntColumn => ({
  name,
  type,
  field,
});
const options = { window: { from: 0, to: 86_400_000_000 }, now: 86_400_000_000 };
const travel = 'from signin\ntravel per user faster than 900';

it('knows which results hold places', () => {
  const events = [column('id'), column('lat', 'number'), column('lon', 'number')];
  expect(placesOf(events, 'from signin')).toBe('events');
  expect(placesOf(events.slice(1), 'from signin\ntally count() per lat, lon')).toBe('columns');
  const journeys = [column('from_city'), column('to_city'), column('kmh', 'number')];
  expect(placesOf(journeys, travel)).toBe('journeys');
  expect(placesOf([column('user')], 'from signin')).toBeNull();
  const rows = [['e1', 59.1, 5.2]];
  expect(viewsOf(events, rows, 'from signin')).toEqual(['table', 'map', 'sentences']);
  expect(viewsOf(events, [], 'from signin')).toEqual(['table']);
});

it.each([
  ['events', 'from signin\nwhere user is not null\nsort time'],
  ['journeys', travel],
] as const)('the hunt behind a map of %s is well formed', (by, text) => {
  expect(() => compileHunt(mapHunt(by, text), options)).not.toThrow();
});

it('puts rows that share a place together, and counts those without', () => {
  const columns = [
    column('city'),
    column('lat', 'number'),
    column('lon', 'number'),
    column('n', 'number', null),
  ];
  const placed = placeRows('columns', columns, [
    ['Stavik', 58.5, 5.7, 3],
    ['Stavik', 58.5, 5.7, 4],
    [null, 1, 2, 1],
    ['Nowhere', null, null, 9],
  ]);
  expect(placed.places.map(({ name, events }) => [name, events])).toEqual([
    ['Stavik', 7],
    ['1, 2', 1],
  ]);
  expect(placed.without).toBe(9);
});

it('draws a journey from the place left to the place come to', () => {
  const names = ['from_city', 'to_city', 'from lat', 'from lon', 'to lat', 'to lon'];
  const columns = names.map((name) => column(name, / /.test(name) ? 'number' : 'text', null));
  const placed = placeRows('journeys', columns, [
    ['Stavik', 'Pell Harbour', 58.5, 5.7, 47, -52],
    ['Stavik', null, 58.5, 5.7, null, null],
  ]);
  expect(placed.journeys.map(({ from, to }) => [from.name, to.name])).toEqual([['Stavik', 'Pell Harbour']]);
  expect(placed.without).toBe(1);
});
