import { compareResults } from './compare-rows.js';

const text = (name: string) => ({ name, type: 'text' });
const number = (name: string) => ({ name, type: 'number' });
const table = (columns: { name: string; type: string }[], rows: (string | number | null)[][]) => ({
  columns,
  rows,
  events: rows.map(() => null),
});

it('tells rows of a table by what is no figure, and figures that changed', () => {
  const before = table(
    [text('user'), number('n')],
    [
      ['teo', 3],
      ['runa', 1],
      ['dov', 2],
    ],
  );
  const after = table(
    [text('user'), number('n')],
    [
      ['runa', 1],
      ['ines', 9],
      ['teo', 4],
    ],
  );
  expect(compareResults(before, after)).toEqual({
    added: [1],
    changed: [{ after: 2, before: 0 }],
    gone: [2],
    same: 1,
  });
});

it('tells events by their id, whatever columns are shown', () => {
  const event = (id: string) => ({ id });
  const before = { columns: [text('user')], rows: [['a'], ['b']], events: [event('1'), event('2')] };
  const after = { columns: [text('host')], rows: [['x'], ['y']], events: [event('2'), event('3')] };
  expect(compareResults(before, after)).toEqual({ added: [1], changed: [], gone: [0], same: 1 });
});

it('columns of one side alone do not tell rows apart; rows that are alike are counted', () => {
  const before = table(
    [text('user'), text('host')],
    [
      ['a', 'x'],
      ['a', 'y'],
    ],
  );
  const after = table(
    [text('user'), number('n')],
    [
      ['a', 1],
      ['a', 2],
      ['a', 3],
    ],
  );
  expect(compareResults(before, after)).toEqual({ added: [2], changed: [], gone: [], same: 2 });
});

it('tables of figures alone, and empty ones', () => {
  const one = table([number('n')], [[3]]);
  expect(compareResults(one, table([number('n')], [[4]]))).toEqual({
    added: [0],
    changed: [],
    gone: [0],
    same: 0,
  });
  expect(compareResults(table([], []), table([], []))).toEqual({ added: [], changed: [], gone: [], same: 0 });
});
