/** What can be pinned to a case. */
export const pinKinds = ['event', 'alert', 'snapshot', 'hunt', 'response', 'file'] as const;
export type PinKind = (typeof pinKinds)[number];

/** Marks what a pin of an imported case refers to: numbers of another installation mean something else here. */
export const ELSEWHERE = 'elsewhere:';

/** What a subject is in a case. */
export const caseRoles = ['victim', 'used', 'attacker', 'affected'] as const;
export type CaseRole = (typeof caseRoles)[number];

/** Who may read what, the strictest first (TLP 2.0, FIRST, 2022). */
export const markings = ['red', 'amber+strict', 'amber', 'green', 'clear'] as const;
export type Marking = (typeof markings)[number];

/** Ways to write a report down. */
export const reportForms = ['html', 'markdown', 'json', 'stix'] as const;
export type ReportForm = (typeof reportForms)[number];
