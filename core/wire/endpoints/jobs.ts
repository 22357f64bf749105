import { endpoint } from '../endpoint.js';
import { jobList } from '../jobs.js';

export const listJobs = endpoint('get', '/jobs', {
  access: 'admin',
  summary: 'Work by the clock: what runs, when it ended last, when it is due next, and whether it failed',
  answer: jobList,
});
