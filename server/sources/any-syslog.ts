import type { Recipe } from '../../core/recipes/recipe-schema.js';

/** Reads any syslog message as far as its header goes. */
export const anySyslog: Recipe = {
  name: 'syslog',
  title: 'Any syslog message',
  version: 1,
  format: 'syslog',
  time: { from: 'timestamp', as: 'syslog' },
  constants: { kind: 'system' },
  map: {
    host: 'hostname',
    process: 'program',
    process_id: 'pid',
    message: 'message',
    severity: {
      from: 'level',
      values: {
        emergency: 'critical',
        alert: 'critical',
        critical: 'critical',
        error: 'high',
        warning: 'medium',
        notice: 'low',
        informational: 'informational',
        debug: 'informational',
      },
    },
  },
};
