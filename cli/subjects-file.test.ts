import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readSubjectsFile } from './subjects-file.js';
import { hunt } from './hunt.js';

const folder = mkdtempSync(join(tmpdir(), 'lamp-subjects-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let made = 0;
function file(content: string): string {
  const path = join(folder, `${made++}.json`);
  writeFileSync(path, content);
  return path;
}
const subjects = (...entries: object[]): string => file(JSON.stringify(entries));

describe('what subjects are also called', () => {
  it('is read by kind and name, whatever the case; bounds are moments', () => {
    const index = readSubjectsFile(
      subjects({
        kind: 'user',
        name: 'Teo.Marrash',
        also: [{ value: 'u-1002' }, { value: 'teo.marash', from: '2026-01-01', to: '2026-03-03T00:00:00Z' }],
      }),
    );
    expect(index('user', 'TEO.marrash')).toEqual([
      { value: 'u-1002', from: null, to: null },
      {
        value: 'teo.marash',
        from: Date.parse('2026-01-01') * 1000,
        to: Date.parse('2026-03-03T00:00:00Z') * 1000,
      },
    ]);
    expect(index('host', 'teo.marrash')).toEqual([]);
    expect(readSubjectsFile(undefined)('user', 'x')).toEqual([]);
  });

  it.each([
    [file('{'), 'cannot be read'],
    [file('{}'), 'must hold a list'],
    [subjects({ kind: 'ship', name: 'gannet' }), 'entry 1: "kind" must be one of user, host'],
    [subjects({ kind: 'user', name: 'a' }, { kind: 'user', name: ' ' }), 'entry 2: "name" is missing'],
    [subjects({ kind: 'user', name: 'a', also: 'b' }), '"also" must be a list'],
    [subjects({ kind: 'user', name: 'a', also: [{}] }), 'needs a "value"'],
    [subjects({ kind: 'user', name: 'a', also: [{ value: 'b', from: 'noon' }] }), '"from" must be a time'],
    [join(folder, 'missing.json'), 'cannot be read'],
  ])('says which entry is wrong, and what of it', (path, words) => {
    expect(() => readSubjectsFile(path)).toThrow(words);
  });
});

it('a hunt over a file finds whom it is about under every name', async () => {
  const events = join(folder, 'events.jsonl');
  writeFileSync(
    events,
    [
      { time: '2026-11-14T08:00:00Z', kind: 'signin', user: 'teo.marrash' },
      { time: '2026-11-14T09:00:00Z', kind: 'signin', user_id: 'u-1002' },
      { time: '2026-11-14T10:00:00Z', kind: 'rights', user: 'runa.keel', target_user: 'teo.marrash' },
      { time: '2026-11-14T11:00:00Z', kind: 'signin', user: 'runa.keel' },
    ]
      .map((event) => JSON.stringify(event))
      .join('\n'),
  );
  const path = subjects({ kind: 'user', name: 'teo.marrash', also: [{ value: 'u-1002' }] });
  const said: string[] = [];
  const write = jest.spyOn(process.stdout, 'write').mockImplementation((text) => said.push(String(text)) > 0);
  try {
    const text = "from all\nwhere about user 'teo.marrash'\ntally count() as n";
    expect(await hunt(['--events', events, '--text', text])).toBe(0);
    expect(await hunt(['--events', events, '--text', text, '--subjects', path])).toBe(0);
  } finally {
    write.mockRestore();
  }
  expect(said.join('')).toBe('{"n":2}\n{"n":3}\n');
});
