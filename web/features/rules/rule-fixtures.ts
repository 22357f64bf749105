import type { RuleCheck } from '../../../core/wire/rules.js';
import { rule } from '../../tests/examples.js';

export const one = rule();
export const other = rule({
  id: '8d7f0a52-0000-4000-8000-000000000002',
  title: 'Log cleared',
  level: 'critical',
  type: 'detection',
  onMatch: 'mark',
  state: 'off',
  liveVersion: null,
  alerts: 0,
  recent: 0,
  problem: 'no source gives category log',
});
export const fine: RuleCheck = {
  documents: [
    {
      title: one.title,
      type: 'correlation',
      line: 1,
      says: 'five failures of a user within an hour',
      then: 'raises an alert',
    },
  ],
  mistake: null,
  notes: [],
  tests: [{ name: 'five of them', must: 'match', passed: true, line: 9, said: 'it matches' }],
  sources: ['harbour-id'],
  lists: [],
  absent: null,
  replayed: null,
};
export const nothing = {
  since: '2026-11-13T08:00:00Z',
  until: '2026-11-14T08:00:00Z',
  events: [],
  more: false,
  milliseconds: 3,
};
export const answers = {
  'GET /rules': { rules: [one, other] },
  [`GET /rules/${one.id}`]: one,
  [`GET /rules/${other.id}`]: other,
  'POST /rules/check': fine,
  'POST /rules/preview': nothing,
  'GET /sources': { sources: [] },
};
export const list = { at: '/rules?zone=UTC', pattern: '/rules' };
export const page = (id: string) => ({ at: `/rules/${id}?zone=UTC`, pattern: '/rules/:id' });

export const picture = (matches: number, alerts: number, complete = true) => ({
  done: complete ? 1 : 0.5,
  complete,
  read: 9,
  until: '2026-11-14T08:00:00Z',
  matches,
  alerts,
  subjects: [],
  days: [],
  examples: [],
  milliseconds: 4,
});
