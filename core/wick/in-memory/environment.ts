import type { JsonObject } from '../../base/json.js';
import type { ListRef } from '../plan.js';

/** Finds the row of a list that a text belongs to, by the list's own way of matching; undefined where it is on none. */
export type FindRow = (text: string) => JsonObject | undefined;

/** What a plan needs from outside while it runs in memory. */
export interface Environment {
  /** The contents of a list that the plan names. @throws Error for a list that is not there */
  rowsOf(list: ListRef): FindRow;
}

/** An environment without lists. */
export const noLists: Environment = {
  rowsOf(list) {
    throw new Error(`The list "${list.name}" was not given.`);
  },
};
