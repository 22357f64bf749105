import { PlainFailure } from './plain-failure.js';
import { runShown } from './run.js';

/**
 * Builds in a process of its own, so that whoever goes on running does not keep what building took (about 590 MB).
 * @throws PlainFailure where it fails; what went wrong has been shown
 */
export async function buildApart(): Promise<void> {
  const code = await runShown(process.execPath, ['--import', 'tsx', 'scripts/build.ts']);
  if (code !== 0) throw new PlainFailure('The application could not be built; see above.');
}
