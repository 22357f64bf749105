import type { Span } from '../../base/span.js';
import type { Cursor } from '../cursor.js';
import type { StepBody } from '../plan.js';
import type { CheckContext, Scope } from '../scope.js';

/** Where a step stands, for messages that speak of it later. */
export interface StepPlace {
  readonly line: number;
  readonly keyword: string;
  readonly span: Span;
}

export interface StepResult {
  readonly body: StepBody;
  readonly scope: Scope;
}

/** One step of the language: how it is written, what it means, and how its text becomes a checked plan. */
export interface StepDef {
  readonly call: string;
  readonly meaning: string;
  readonly example: string;
  /**
   * Reads the step after its keyword and checks it against what can be named before it.
   * @throws HuntError
   */
  compile(cursor: Cursor, scope: Scope, context: CheckContext, place: StepPlace): StepResult;
}
