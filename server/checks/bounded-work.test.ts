import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BoundedWork } from './bounded-work.js';

const folder = mkdtempSync(join(tmpdir(), 'lamp-checks-'));
const file = join(folder, 'worker.mjs');
writeFileSync(
  file,
  `export default (task) => {
     if (task === 'for ever') for (;;);
     if (task === 'all memory') { const held = []; for (;;) held.push(new Array(1e6).fill(held.length)); }
     return task + ' done';
   };`,
);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

// A thread starts slowly on a machine with much to do, and its start counts.
const bounds = { milliseconds: 6000, megabytes: 64, waiting: 1 };

it('ends work that takes too long or too much, in words, and goes on with the next', async () => {
  const work = new BoundedWork<string, string>(file, null, bounds);
  try {
    await expect(work.run('a rule')).resolves.toBe('a rule done');
    await expect(work.run('for ever')).rejects.toMatchObject({
      code: 'too-costly',
      message: expect.stringContaining('longer than 6 s'),
    });
    await expect(work.run('another')).resolves.toBe('another done');
    await expect(work.run('all memory')).rejects.toMatchObject({ code: 'too-costly' });
    await expect(work.run('the last')).resolves.toBe('the last done');
  } finally {
    await work.stop();
  }
});

it('refuses more than may wait', async () => {
  const work = new BoundedWork<string, string>(file, null, bounds);
  try {
    // One runs, and one may wait.
    const running = ['for ever', 'a', 'b', 'c'].map((task) =>
      work.run(task).catch((error: { code?: string }) => error.code),
    );
    expect(await Promise.all(running)).toEqual(['too-costly', 'too-costly', 'busy', 'busy']);
    // What was refused holds no place.
    await expect(work.run('a')).resolves.toBe('a done');
  } finally {
    await work.stop();
  }
});
