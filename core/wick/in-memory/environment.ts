import type { ListRef } from '../plan.js';

/** Tells whether a text is on a list, by the list's own way of matching. */
export type ListTest = (text: string) => boolean;

/** What a plan needs from outside while it runs in memory. */
export interface Environment {
  /** The contents of a list that the plan names. @throws Error for a list that is not there */
  listTest(list: ListRef): ListTest;
}

/** An environment without lists. */
export const noLists: Environment = {
  listTest(list) {
    throw new Error(`The list "${list.name}" was not given.`);
  },
};
