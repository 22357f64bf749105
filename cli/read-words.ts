import { parseArgs, type ParseArgsConfig } from 'node:util';
import { UsageError } from './usage.js';

/** Reads the words of a command by its options. @throws UsageError for a word that is none */
export function readWords<T extends ParseArgsConfig>(config: T): ReturnType<typeof parseArgs<T>> {
  try {
    return parseArgs(config);
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}
