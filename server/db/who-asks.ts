import { AsyncLocalStorage } from 'node:async_hooks';

/** Work of the product itself, such as hunts that are rules. */
const NOBODY = '';

const asking = new AsyncLocalStorage<string>();

/** Runs work on account of a person: what it asks of the database counts as theirs. */
export const asPerson = <T>(name: string, work: () => T): T => asking.run(name, work);

/** On whose account the present work is done; empty for the product's own. */
export const whoAsks = (): string => asking.getStore() ?? NOBODY;
