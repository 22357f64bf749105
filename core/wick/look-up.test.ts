import { listFinder } from '../lists/list-match.js';
import { jsonCells } from '../output/json-lines.js';
import { jsonToText } from '../text/json-text.js';
import { compileHunt } from './compile.js';
import { HuntError } from './hunt-error.js';
import { runInMemory } from './in-memory/run.js';
import { makeEvents } from './tests/events.js';
import { lookUpCases, lookUpLists, lookUpRecords } from './tests/look-up-cases.js';

const options = {
  window: { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 },
  now: Date.parse('2026-11-15') * 1000,
  lists: lookUpLists,
};

it.each(lookUpCases)('17: %s', (steps, columns, expected) => {
  const plan = compileHunt(`from all\nsort time\n${steps}`, options);
  const { rows } = runInMemory(plan, makeEvents(lookUpRecords), {
    rowsOf({ name }) {
      const list = lookUpLists.find((one) => one.name === name);
      const find = listFinder(
        list?.match ?? 'exact',
        list?.rows.map((row) => jsonToText(row[list.key] ?? null) ?? '') ?? [],
      );
      return (text) => list?.rows[find(text) ?? -1];
    },
  });
  expect(plan.columns.map(({ name }) => name)).toEqual(columns);
  expect(rows.map((row) => jsonCells(plan.columns, row))).toEqual(expected);
});

it.each([
  ['look user in list people', 'Expected "up"'],
  ['look up user in people', 'Expected "list"'],
  ['look up user in list peeple', 'Did you mean "people"?'],
  ['look up via_ips in list nets', 'one value is looked up at a time'],
  ['look up user in list people\nlook up host in list people', 'choose another prefix with "as"'],
  ['look up user in list people as', 'Expected a name'],
  ['look up user in list people\nwhere people.flor = 1', 'Did you mean "people.floor"?'],
  ['look up length(user) in list people', 'No field "length"'],
])('refuses %s', (steps, told) => {
  try {
    compileHunt(`from all\n${steps}`, options);
    throw new Error('it was not refused');
  } catch (error) {
    expect(error).toBeInstanceOf(HuntError);
    expect((error as HuntError).message).toContain(told);
  }
});
