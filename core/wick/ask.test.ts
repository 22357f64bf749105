import { compileHunt, asksOf } from './compile.js';
import { HuntError } from './hunt-error.js';
import { runInMemory } from './in-memory/run.js';
import { makeEvents } from './tests/events.js';

const window = { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 };
const events = makeEvents([
  { time: '2026-11-14T01:00:00Z', user: 'a', outcome: 'failure', bytes_out: 5 },
  { time: '2026-11-14T02:00:00Z', user: 'b', outcome: 'success', bytes_out: 50 },
  { time: '2026-11-14T03:00:00Z', outcome: 'success', bytes_out: 500 },
]);

function ids(text: string, parameters: Record<string, string> = {}): unknown[] {
  const plan = compileHunt(`${text}\nsort time\nshow id`, { window, now: window.to, parameters });
  return runInMemory(plan, events).rows.map(([id]) => id);
}

function refused(text: string, parameters: Record<string, string> = {}): HuntError {
  try {
    compileHunt(text, { window, now: window.to, parameters });
  } catch (error) {
    if (error instanceof HuntError) return error;
    throw error;
  }
  throw new Error('This should have been refused.');
}

describe('35: blanks', () => {
  it('stand for any literal: text, numbers, durations, windows and counts', () => {
    expect(ids("ask who 'User'\nfrom all\nwhere user = $who", { who: ' A ' })).toEqual(['e1']);
    expect(ids("ask who 'User'\nfrom all\nwhere user = $WHO", { Who: 'b' })).toEqual(['e2']);
    expect(ids("ask least 'Bytes' default 40\nfrom all\nwhere bytes_out > $least")).toEqual(['e2', 'e3']);
    expect(ids("ask least 'Bytes'\nfrom all\nwhere bytes_out > $least", { least: '100' })).toEqual(['e3']);
    expect(ids("ask back 'How far' default 23h\nfrom all over last $back")).toEqual(['e1', 'e2', 'e3']);
    expect(ids("ask back 'How far' default 23h\nfrom all over last $back", { back: '22h' })).toEqual([
      'e2',
      'e3',
    ]);
    expect(ids("ask n 'Rows' default 1\nfrom all\nfirst $n")).toEqual(['e3']);
    expect(ids("ask d 'Before' default 90m\nfrom all\nwhere time > '2026-11-14T03:00:00Z' - $d")).toEqual([
      'e2',
      'e3',
    ]);
    expect(ids("ask p 'Like' default '%b%'\nfrom all\nwhere user like $p")).toEqual(['e2']);
    expect(ids("ask t 'Since'\nfrom all over $t to '2026-11-15'", { t: '2026-11-14T02:30:00Z' })).toEqual([
      'e3',
    ]);
  });

  it('take their default when left away or empty', () => {
    expect(ids("ask who 'User' default 'b'\nfrom all\nwhere user = $who", { who: '' })).toEqual(['e2']);
  });

  it('with "any" never remove a row while they are left open, under "not" as well', () => {
    const text = "ask who 'User' any\nfrom all\nwhere ";
    expect(ids(`${text}user = $who`)).toEqual(['e1', 'e2', 'e3']);
    expect(ids(`${text}not (user = $who)`)).toEqual(['e1', 'e2', 'e3']);
    expect(ids(`${text}not (user = $who and bytes_out > 1000)`)).toEqual(['e1', 'e2', 'e3']);
    expect(ids(`${text}user != lower($who) and bytes_out > 10`)).toEqual(['e2', 'e3']);
    expect(ids(`${text}user = $who`, { who: 'a' })).toEqual(['e1']);
    expect(ids("ask who 'User' any\nfrom all\nset x = $who\nwhere x is null")).toEqual(['e1', 'e2', 'e3']);
  });

  it('are refused on the line where they are asked for', () => {
    expect(refused("ask who 'User'\nfrom all\nwhere user = $who")).toMatchObject({
      code: 'missing-value',
      span: { line: 1, column: 5 },
    });
    expect(
      refused("-- a comment\nask n 'N' default 1\nfrom all\nwhere bytes_out > $n", { n: 'x' }),
    ).toMatchObject({ code: 'unreadable', span: { line: 2 } });
    expect(refused("ask at 'At'\nfrom all\nwhere src_ip = $at", { at: 'banana' })).toMatchObject({
      span: { line: 1 },
      message: expect.stringContaining('"banana" cannot be read as an address'),
    });
    expect(
      refused("ask o 'Outcome' choices 'success', 'failure'\nfrom all\nwhere outcome = $o", { o: 'maybe' })
        .message,
    ).toContain('none of the choices');
    expect(refused("from all\nask who 'User'")).toMatchObject({ span: { line: 2 } });
    expect(refused("ask who 'User' any\nask WHO 'Again' any\nfrom all").message).toContain('twice');
    expect(refused("ask who 'User' any\nfrom all\nwhere user = $whom").message).toContain('"$who"');
    expect(refused("ask d 'D' any\nfrom all over last $d").message).toContain('left open');
  });

  it('say what form they need', () => {
    expect(
      asksOf(
        "ask who 'User name' choices from user any\nask days 'Days' default 7d\nask n 'Tries' default 3 choices 3, 5\nfrom nothing right",
      ),
    ).toEqual([
      { name: 'who', label: 'User name', type: 'text', default: null, choices: { field: 'user' }, any: true },
      { name: 'days', label: 'Days', type: 'duration', default: '7d', choices: null, any: false },
      {
        name: 'n',
        label: 'Tries',
        type: 'number',
        default: '3',
        choices: { values: ['3', '5'] },
        any: false,
      },
    ]);
  });

  it('may stay open while a hunt is written, and what was given for nothing is noted', () => {
    const text = "ask who 'User'\nfrom all\nwhere user = $who";
    expect(compileHunt(text, { window, now: window.to, writing: true }).asks).toHaveLength(1);
    expect(compileHunt('from all', { window, now: window.to, parameters: { extra: '1' } }).notes).toEqual([
      '"extra" was given, and this hunt does not ask for it.',
    ]);
  });
});
