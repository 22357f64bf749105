import { eventsBehind, moveStep, moveStepTo, switchStep, textUpTo, withoutOver } from './edit-steps.js';
import { compileHunt } from './compile.js';

const hunt =
  "-- who fails\nfrom signin\nwhere outcome = 'failure'\n  and user is not null\n\nset net = network(src_ip, 24)\ntally count() per user";
const options = { window: { from: 0, to: 86_400_000_000 }, now: 86_400_000_000 };

it('moves a step with the lines that go on with it, and says where it went', () => {
  const down = moveStep(hunt, 4, 'down');
  expect(down).toEqual({
    text: "-- who fails\nfrom signin\nset net = network(src_ip, 24)\n\nwhere outcome = 'failure'\n  and user is not null\ntally count() per user",
    line: 5,
  });
  expect(moveStep(down?.text ?? '', 6, 'up')?.text).toBe(hunt);
  expect(moveStep(hunt, 2, 'up')).toBeNull();
  expect(moveStep(hunt, 7, 'down')).toBeNull();
  expect(moveStep('', 1, 'up')).toBeNull();
});

it('moves a step past several others', () => {
  const short = 'from signin\nwhere a\nwhere b\n  or c\nsort user';
  expect(moveStepTo(short, 5, 2)).toEqual({
    text: 'from signin\nsort user\nwhere a\nwhere b\n  or c',
    line: 2,
  });
  expect(moveStepTo(short, 2, 4)).toEqual({
    text: 'from signin\nwhere b\n  or c\nwhere a\nsort user',
    line: 4,
  });
  expect(moveStepTo(short, 3, 4)).toBeNull();
});

it('switches a step off and on without losing a character of it', () => {
  const off = switchStep(hunt, 3);
  expect(off).toContain("-- where outcome = 'failure'\n--   and user is not null\n");
  expect(compileHunt(off, options).steps.map(({ step }) => step)).toEqual(['from', 'set', 'tally']);
  expect(switchStep(off, 4)).toBe(hunt);
  expect(switchStep(off, 3)).toBe(hunt);
  expect(switchStep('', 1)).toBe('');
});

it.each([
  ['from network over last 7d\nwhere x', 'from network\nwhere x'],
  ["-- over last\nfrom source a-b over '2026-11-01' to '2026-11-02'", '-- over last\nfrom source a-b'],
  ["from all\nwhere message = 'over last 7d'", "from all\nwhere message = 'over last 7d'"],
])('goes by the Beam without a window of its own: %j', (text, without) =>
  expect(withoutOver(text)).toBe(without),
);

it('cuts a hunt after a step', () => {
  expect(textUpTo(hunt, 3)).toBe(
    "-- who fails\nfrom signin\nwhere outcome = 'failure'\n  and user is not null",
  );
  expect(textUpTo(hunt, 7)).toBe(hunt);
});

describe('the events behind a row of a tally', () => {
  const behind = (text: string, row: Record<string, string | number | null>): string | null =>
    eventsBehind(
      text,
      Object.entries(row).map(([column, value]) => ({ column, value })),
      options,
    );

  it('are told by its keys and its stretch of time', () => {
    expect(
      behind(
        'from signin\nwhere outcome = \'failure\'\ntally count() as n per user, original."Port No" as port, every 15m\nsort n desc',
        {
          user: "o'hara",
          port: null,
          time: '2026-11-14T08:15:00Z',
          n: 3,
        },
      ),
    ).toBe(
      "from signin\nwhere outcome = 'failure'\nwhere user = 'o''hara'\nwhere original.\"Port No\" is null\nwhere time >= '2026-11-14T08:15:00Z' and time < '2026-11-14T08:15:00Z' + 900s",
    );
    expect(
      behind('from all\nset net = network(src_ip, 24)\ntally count() per net as n24', {
        n24: '10.0.0.0/24',
        count: 1,
      }),
    ).toBe("from all\nset net = network(src_ip, 24)\nwhere net = '10.0.0.0/24'");
    for (const text of [behind('from all\ntally count() per bytes_out', { bytes_out: 7, count: 1 })])
      expect(() => compileHunt(text ?? '', options)).not.toThrow();
  });

  it('are sought among the rows that came to the tally', () => {
    expect(behind('from all\nfirst 5\ntally count() per user', { user: 'a' })).toBe(
      "from all\nfirst 5\nwhere user = 'a'",
    );
  });

  it('cannot be told where keys are computed in the tally or are gone', () => {
    expect(behind('from all\ntally count() per lower(user)', { lower: 'a' })).toBeNull();
    expect(behind('from all\ntally count() as n per user\nshow n', { n: 1 })).toBeNull();
    expect(behind('from all', { user: 'a' })).toBeNull();
    expect(behind('from nothing', { user: 'a' })).toBeNull();
  });
});
