import { accessSync, constants, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

/** True where everybody may read a file and go through the folders it lies in. */
function isOpenToAll(file: string): boolean {
  if ((statSync(file).mode & constants.S_IROTH) === 0) return false;
  for (let folder = dirname(file); ; folder = dirname(folder)) {
    if ((statSync(folder).mode & constants.S_IXOTH) === 0) return false;
    if (folder === dirname(folder)) return true;
  }
}

/**
 * Goes on as an account that owns nothing, where the process was started by root: what it needs root for, it does not do.
 * @returns why it stays root, in words; null where it does not
 */
export function leaveRoot(account: string, file = fileURLToPath(import.meta.url)): string | null {
  if (process.getuid?.() !== 0) return null;
  const { setgid, setuid, setgroups } = process;
  if (setgid === undefined || setuid === undefined || setgroups === undefined) return null;
  try {
    accessSync(file);
    if (!isOpenToAll(file))
      return `The server stays root: ${dirname(file)} is closed to other accounts. Put it where all may read it.`;
    const group = account === 'nobody' ? 'nogroup' : account;
    setgroups.call(process, [group]);
    setgid.call(process, group);
    setuid.call(process, account);
    return null;
  } catch (error) {
    return `The server stays root: it cannot become "${account}" (${error instanceof Error ? error.message : String(error)}). Name another account with UNDER_LAMP_USER.`;
  }
}
