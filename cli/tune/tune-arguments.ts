import type { LogSource } from '../../core/sigma/rule-model.js';
import { readWords } from '../read-words.js';
import { readLogSource, spread } from '../sweep/sweep-arguments.js';
import { UsageError } from '../usage.js';

/** What `lamp tune` was asked to do. */
export interface TuneArguments {
  readonly rules: readonly string[];
  readonly events: readonly string[];
  /** A file of verdicts, one JSON object a line. */
  readonly verdicts: string | undefined;
  readonly format: 'json' | 'table';
  readonly logsource: LogSource | 'any' | undefined;
  readonly recipe: string | undefined;
  /** Rules whose proposals may lose a real match. */
  readonly allowLoss: readonly string[];
}

/** Reads the words after `lamp tune`. @throws UsageError */
export function readTuneArguments(words: readonly string[]): TuneArguments {
  const { values, positionals } = readWords({
    args: spread(words),
    options: {
      rules: { type: 'string', multiple: true, default: [] },
      events: { type: 'string', multiple: true, default: [] },
      verdicts: { type: 'string' },
      format: { type: 'string', default: 'table' },
      logsource: { type: 'string' },
      recipe: { type: 'string' },
      'allow-loss': { type: 'string', multiple: true, default: [] },
    },
    allowPositionals: true,
  });
  if (positionals.length > 0)
    throw new UsageError(`"${positionals[0]}" belongs to no option: files stand behind --events or --rules.`);
  if (values.rules.length === 0) throw new UsageError('--rules PATH… is missing.');
  if (values.events.length === 0) throw new UsageError('--events FILE… or a folder is missing.');
  const { format } = values;
  if (format !== 'json' && format !== 'table')
    throw new UsageError(`--format: "${format}" is neither json nor table.`);
  return {
    rules: values.rules,
    events: values.events,
    verdicts: values.verdicts,
    format,
    logsource: readLogSource(values.logsource),
    recipe: values.recipe,
    allowLoss: values['allow-loss'],
  };
}
