import { execFile } from 'node:child_process';
import { realpath } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { DeliveryFailure } from '../delivery-failure.js';
import type { Send } from './sender.js';

const RUN_MILLISECONDS = 30_000;
const MAX_OUTPUT = 16 * 1024;

/** A program of the one allowed folder, without a shell, with nothing of our own surroundings. */
export const runProgram: Send<'program'> = async ({ content, key, destination, programs }) => {
  if (destination === null) throw new Error('A program has a name.');
  if (programs === null)
    throw new DeliveryFailure('No folder of programs is allowed: set UNDER_LAMP_PROGRAMS.', true);
  const folder = await realpath(programs).catch(() => programs);
  const path = await realpath(join(folder, destination.address)).catch((error: unknown) => {
    throw new DeliveryFailure(
      `There is no program "${destination.address}" in the allowed folder.`,
      true,
      error,
    );
  });
  if (!path.startsWith(folder + sep))
    throw new DeliveryFailure('The program lies outside of the allowed folder.', true);
  return new Promise((done, failed) => {
    execFile(
      path,
      [...content.arguments],
      {
        cwd: folder,
        env: { PATH: '/usr/bin:/bin', LAMP_DELIVERY: key },
        timeout: RUN_MILLISECONDS,
        maxBuffer: MAX_OUTPUT,
        shell: false,
      },
      (error, output) => {
        if (error === null)
          done(`${destination.address}: ${output.trim().split('\n')[0]?.slice(0, 200) ?? 'done'}`);
        else failed(new DeliveryFailure(`The program failed: ${error.message.slice(0, 300)}`, false, error));
      },
    );
  });
};
