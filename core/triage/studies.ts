import { bruteForce } from './brute-force.js';
import type { PlacedFact, StudyName, StudyTable } from './facts.js';
import { lateralMovement } from './lateral-movement.js';
import { timeline } from './timeline.js';

/** The studies of a triage by their names. */
export const studies: Readonly<Record<StudyName, (facts: readonly PlacedFact[]) => StudyTable>> = {
  timeline,
  'lateral-movement': lateralMovement,
  'brute-force': bruteForce,
};
