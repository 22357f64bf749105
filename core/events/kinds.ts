/** The kinds of events, with the words the interface explains them by. One vocabulary for all sources. */
export const kinds = {
  signin: 'someone proves who they are, or fails to',
  account: 'life of accounts',
  rights: 'who may do what',
  acting: 'acting as another',
  process: 'programs started or stopped, and with what rights',
  software: 'installed, removed',
  network: 'flows and firewall decisions',
  dns: 'names asked for',
  web: 'requests and attacks on web applications',
  cloud: 'changes to cloud resources',
  object: 'access to stored objects',
  query: 'reads from business applications',
  finding: "another system's own detection",
  log: 'the logs themselves',
  system: 'the rest',
} as const;

export type Kind = keyof typeof kinds;
export const kindNames = Object.keys(kinds) as Kind[];

/** How an event ended. */
export const outcomes = ['success', 'failure', 'blocked', 'allowed', 'unknown'] as const;
export type Outcome = (typeof outcomes)[number];

/** The five levels of the open Sigma format, mildest first. */
export const severities = ['informational', 'low', 'medium', 'high', 'critical'] as const;
export type Severity = (typeof severities)[number];

export const isKind = (text: string): text is Kind => Object.hasOwn(kinds, text);
export const isOutcome = (text: string): text is Outcome => (outcomes as readonly string[]).includes(text);
export const isSeverity = (text: string): text is Severity =>
  (severities as readonly string[]).includes(text);
