import { hunt } from './hunt.js';
import { importFiles } from './import.js';
import { USAGE, UsageError } from './usage.js';

const [command, ...words] = process.argv.slice(2);

async function run(): Promise<number> {
  switch (command) {
    case 'hunt':
      return hunt(words);
    case 'import':
      return importFiles(words);
    case undefined:
    case 'help':
    case '--help':
    case '-h':
      process.stdout.write(USAGE);
      return command === undefined ? 2 : 0;
    default:
      throw new UsageError(`No command "${command}". Try: lamp hunt, lamp import, lamp help.`);
  }
}

// Whoever reads the output may stop early (`lamp hunt … | head`); that is no failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 1));

try {
  process.exitCode = await run();
} catch (error) {
  const wrongUse = error instanceof UsageError;
  process.stderr.write(`lamp: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = wrongUse ? 2 : 1;
}
