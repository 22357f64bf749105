import { board } from './board.js';
import { hunt } from './hunt.js';
import { importFiles } from './import.js';
import { planOfThread, runThread } from './sweep/sweep-thread.js';
import { read } from './read.js';
import { sweep } from './sweep/sweep.js';
import { tune } from './tune/tune.js';
import { USAGE, UsageError } from './usage.js';

const [command, ...words] = process.argv.slice(2);

async function run(): Promise<number> {
  switch (command) {
    case 'hunt':
      return hunt(words);
    case 'board':
      return board(words);
    case 'import':
      return importFiles(words);
    case 'sweep':
      return sweep(words);
    case 'tune':
      return tune(words);
    case 'read':
      return read(words);
    case undefined:
    case 'help':
    case '--help':
    case '-h':
      process.stdout.write(USAGE);
      return command === undefined ? 2 : 0;
    default:
      throw new UsageError(
        `No command "${command}". Try: lamp hunt, lamp board, lamp sweep, lamp tune, lamp read, lamp import, lamp help.`,
      );
  }
}

async function main(): Promise<void> {
  // Whoever reads the output may stop early (`lamp hunt … | head`); that is no failure.
  process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 1));

  try {
    process.exitCode = await run();
  } catch (error) {
    const wrongUse = error instanceof UsageError;
    process.stderr.write(`lamp: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = wrongUse ? 2 : 1;
  }
}

// Threads of a sweep run this very file.
const plan = planOfThread();
if (plan === null) await main();
else runThread(plan);
