import type { Plan, Window } from '../plan.js';

/** The plan over another window. */
export const withWindow = (plan: Plan, window: Window): Plan => ({
  ...plan,
  window,
  steps: plan.steps.map((step) => (step.step === 'from' ? { ...step, window } : step)),
});
