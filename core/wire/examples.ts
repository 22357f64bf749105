/** A hunt as somebody may ask it. */
export const huntExample = `from signin
where outcome = 'failure'
tally count() per user
`;

/** The same over a day. */
export const questionExample = {
  text: huntExample,
  window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
} as const;

/** A rule as somebody may send it. */
export const ruleExample = `title: Refusals of one user
id: 5a6f0a52-6d6c-4d5e-9d3c-0f7f2b1c8e11
status: experimental
level: medium
logsource:
    category: authentication
detection:
    refused:
        outcome: failure
    condition: refused
`;

/** A recipe as somebody may send it. */
export const recipeExample = {
  name: 'gate-north',
  title: 'Gate, north quay',
  version: 1,
  format: 'json',
  time: { from: 'at', as: 'iso' },
  constants: { kind: 'signin' },
  map: { user: 'who', operation: 'did' },
} as const;

/** A board as somebody may send it. */
export const boardExample = {
  title: 'Refusals',
  about: 'Who is refused, and how often',
  cards: [
    {
      id: 'who',
      title: 'Who is refused',
      hunt: huntExample,
      picture: { kind: 'ranked' },
    },
  ],
  layout: [{ card: 'who', x: 0, y: 0, w: 6, h: 6 }],
} as const;

/** A runbook as somebody may send it. */
export const runbookExample = {
  title: 'Ask first',
  steps: [
    {
      id: 'ask',
      title: 'Was it ordered?',
      do: 'ask',
      question: 'Was this ordered?',
      answers: [{ says: 'Yes', go: 'end' }, { says: 'No' }],
    },
    { id: 'sessions', title: 'End all sessions', do: 'respond', response: 'revoke-sessions' },
  ],
} as const;

/** A response as somebody may send it. */
export const responseExample = {
  title: 'Lock the desk',
  on: 'host',
  to: 'agent',
  path: '/hosts/{subject}/lock',
  body: { why: '{id}' },
  undo: { title: 'Unlock the desk', path: '/hosts/{subject}/unlock' },
  hours: 8,
  history: 'from all\nwhere host = {subject} or src_host = {subject}',
  narrower: null,
} as const;
