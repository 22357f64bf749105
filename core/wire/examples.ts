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
  constants: { kind: 'auth' },
  map: { user: 'who', operation: 'did' },
} as const;
