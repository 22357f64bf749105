import { jobList } from '../../core/wire/jobs.js';
import { route, type Route } from '../http/route.js';
import type { JobRecord } from './job-record.js';

/** What is done by the clock, for whoever looks after the workbench. */
export const clockRoutes = (jobs: JobRecord): Route[] => [
  route('get', '/jobs', {
    access: 'admin',
    summary: 'Work by the clock: what runs, when it ended last, when it is due next, and whether it failed',
    answer: jobList,
    handle: async () => jobs.all(),
  }),
];
