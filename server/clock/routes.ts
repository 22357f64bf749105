import { listJobs } from '../../core/wire/endpoints/jobs.js';
import { handles, type Route } from '../http/route.js';
import type { JobRecord } from './job-record.js';

/** What is done by the clock, for whoever looks after the workbench. */
export const clockRoutes = (jobs: JobRecord): Route[] => [handles(listJobs, async () => jobs.all())];
