/** What a response does to a subject, with the words of its button. */
export const responses = {
  'force-password-change': 'Force a password change',
  'revoke-sessions': 'Revoke all sessions',
  'disable-account': 'Disable the account',
} as const;
export type ResponseName = keyof typeof responses;

/** The words of a response's button. */
export const labelOf = (does: string): string =>
  Object.hasOwn(responses, does) ? responses[does as ResponseName] : does;
