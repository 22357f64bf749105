import { studyRule, type RuleStudy, type StudyTask } from '../../core/tuning/study-work.js';
import { BoundedWork } from '../checks/bounded-work.js';

/** Where the search for cuts is done. */
export interface StudyThreads {
  /** @throws Failure 422 where it takes too much, 429 where too many wait */
  run(task: StudyTask): Promise<RuleStudy>;
}

const BOUNDS = {
  milliseconds: 30_000,
  megabytes: 1024,
  waiting: 4,
  words: { what: 'Looking for cuts', advice: 'Take a shorter time of proof.' },
} as const;

/** Searches in threads of their own. @param file the thread as it was built */
export const studiesApart = (file: string): BoundedWork<StudyTask, RuleStudy> =>
  new BoundedWork<StudyTask, RuleStudy>(file, null, BOUNDS);

/** Searches where it is asked, for tests and tools. */
export const studiesHere: StudyThreads = { run: (task) => Promise.resolve(studyRule(task)) };
