import { columnNames, isColumnName } from './columns.js';
import { columnOfOcsf, ocsfOfColumn } from './ocsf.js';

it('leads from columns to the open names and back again', () => {
  const named = columnNames.filter((name) => ocsfOfColumn[name] !== undefined);
  expect(named.length).toBeGreaterThan(50);
  expect(columnOfOcsf.size).toBe(named.length);
  for (const name of named) expect(columnOfOcsf.get(ocsfOfColumn[name] ?? '')).toBe(name);
});

it('names only what is a column, and no path that leads through another', () => {
  expect(Object.keys(ocsfOfColumn).filter((name) => !isColumnName(name))).toEqual([]);
  const paths = [...columnOfOcsf.keys()];
  expect(paths.filter((path) => paths.some((other) => other.startsWith(`${path}.`)))).toEqual([]);
});
