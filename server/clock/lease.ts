/**
 * Long work that is taken row by row of a table is held by a lease (C. G. Gray and D. R. Cheriton, 1989) in its column
 * `leased_until`: whoever works says so again with each piece, and what nobody has spoken of for so long is taken by
 * another server, which goes on where it stood. These are pieces of statements; the clock is the database's, so that
 * servers need not agree on the time.
 */
export const lease = {
  /** Holds of a row that nobody works on: a condition. */
  isFree: '(leased_until IS NULL OR leased_until < now())',
  /** Holds of a row that somebody works on: a condition. */
  isHeld: 'leased_until > now()',
  /** Takes it, or keeps it for a while longer: an assignment. */
  hold: `leased_until = now() + interval '2 minutes'`,
  /** Lets it go: an assignment. */
  letGo: 'leased_until = NULL',
} as const;
