import type { Wire } from './common.js';

const moment = { type: ['string', 'null'] } as const;

/** Work by the clock, as it stands. */
export const jobList = {
  type: 'object',
  required: ['jobs'],
  additionalProperties: false,
  properties: {
    jobs: {
      type: 'array',
      items: {
        type: 'object',
        required: ['name', 'title', 'pause', 'runningSince', 'lastEnded', 'nextDue', 'failure', 'failed'],
        additionalProperties: false,
        properties: {
          name: { type: 'string' },
          title: { type: 'string' },
          pause: { type: 'number', description: 'seconds from the end of a round to the next' },
          runningSince: { ...moment, description: 'null between rounds' },
          lastEnded: moment,
          nextDue: moment,
          failure: { type: ['string', 'null'], description: 'of the newest round, where it failed' },
          failed: moment,
        },
      },
    },
  },
} as const;
export type JobList = Wire<typeof jobList>;
export type Job = JobList['jobs'][number];
