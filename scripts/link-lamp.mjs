// Makes `npx lamp` work inside this folder: npm links the commands of dependencies, not of the package itself.
import { existsSync, mkdirSync, rmSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';

const folder = join(process.cwd(), 'node_modules', '.bin');
if (existsSync(join(process.cwd(), 'node_modules'))) {
  mkdirSync(folder, { recursive: true });
  rmSync(join(folder, 'lamp'), { force: true });
  symlinkSync(join('..', '..', 'cli', 'bin', 'lamp.mjs'), join(folder, 'lamp'));
}
