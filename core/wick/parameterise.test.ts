import { compileHunt } from './compile.js';
import { parameterise, valueAt, writtenValues } from './parameterise.js';

const hunt = `-- 'not a value'
from signin over last 7d
where user = 'teo.marrash' and src_port > 1024
  and country in ('NO', 'SE')
streak outcome = 'failure' until outcome = 'success' per user within 2h as attempts`;
const options = { window: { from: 0, to: 86_400_000_000 }, now: 86_400_000_000 };

it('finds the values of a hunt with the field each is compared with', () => {
  expect(writtenValues(hunt).map(({ written, near }) => [written, near])).toEqual([
    ["'teo.marrash'", 'user'],
    ['1024', 'src_port'],
    ["'NO'", 'country'],
    ["'SE'", 'country'],
    ["'failure'", 'outcome'],
    ["'success'", 'outcome'],
    ['2h', 'user'],
  ]);
  expect(writtenValues('from signin\nwhere user = ')).toEqual([]);
  expect(writtenValues("from signin\nwhere user = 'open")).toEqual([]);
});

it('takes the value at the cursor, else the first of its line', () => {
  expect(valueAt(hunt, hunt.indexOf('1024') + 2)?.written).toBe('1024');
  expect(valueAt(hunt, hunt.indexOf('where'))?.written).toBe("'teo.marrash'");
  expect(valueAt(hunt, hunt.length)?.written).toBe("'failure'");
  expect(valueAt(hunt, 0)).toBeNull();
});

it.each([
  ["'teo.marrash'", "ask user 'User' default 'teo.marrash'", 'where user = $user and'],
  ['1024', "ask src_port 'Src port' default 1024", 'src_port > $src_port'],
  ["'SE'", "ask country 'Country' default 'SE'", "in ('NO', $country)"],
])('makes %s a blank that runs as before', (written, ask, step) => {
  const value = writtenValues(hunt).find((one) => one.written === written);
  const made = parameterise(hunt, value ?? { from: 0, to: 0, written: '', near: null });
  expect(made).toContain(`${ask}\nfrom signin`);
  expect(made).toContain(step);
  expect(compileHunt(made, options).steps).toHaveLength(3);
});

it('finds a name that is not taken', () => {
  const [first] = writtenValues(hunt);
  if (first === undefined) throw new Error('There is a value.');
  const once = parameterise(hunt, first);
  const next = writtenValues(once).find(({ written }) => written === "'NO'");
  if (next === undefined) throw new Error('There is another.');
  const twice = parameterise(once, { ...next, near: 'user' });
  expect(twice).toContain("ask user_2 'User 2' default 'NO'");
  expect(compileHunt(twice, options).asks.map(({ name }) => name)).toEqual(['user', 'user_2']);
});
