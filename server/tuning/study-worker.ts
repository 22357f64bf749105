import { studyRule, type RuleStudy, type StudyTask } from '../../core/tuning/study-work.js';

/** Studies one rule, in a thread of its own. */
export default function study(task: StudyTask): RuleStudy {
  return studyRule(task);
}
