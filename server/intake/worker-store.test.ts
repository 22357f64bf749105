import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileRecipe } from '../../core/recipes/apply.js';
import { anySyslog } from '../sources/any-syslog.js';
import type { RecordStore } from './store-records.js';
import { WorkerStore } from './worker-store.js';

it('hands every record over, however few: none is read by the thread that answers requests', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'lamp-worker-'));
  const file = join(folder, 'worker.mjs');
  // Answers what it was handed, and whether it is another thread.
  writeFileSync(
    file,
    `import { isMainThread } from 'node:worker_threads';\nexport default (task) => ({ ...task, stored: isMainThread ? 0 : task.records.length });\n`,
  );
  const apply = jest.fn();
  const storeHere = jest.fn();
  const here = { store: storeHere } as unknown as RecordStore;
  const threads = new WorkerStore(file, 1, { databaseUrl: '', places: [] }, here);
  try {
    const source = {
      name: 'one',
      keyHash: Buffer.alloc(32),
      retentionDays: null,
      identity: 'one',
      own: compileRecipe(anySyslog),
      recipe: { ...compileRecipe(anySyslog), apply },
      claims: null,
      otherwise: { format: 'text' as const },
    };
    const result = await threads.store(source, ['a'], 5, { marks: ['m'] });
    expect(result).toMatchObject({ source: 'one', records: ['a'], received: 5, marks: ['m'], stored: 1 });
    expect(result).toMatchObject({ otherwise: { format: 'text' } });
    expect(apply).not.toHaveBeenCalled();
    expect(storeHere).not.toHaveBeenCalled();
  } finally {
    await threads.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
