import { formatInstant, HOUR, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { inOrder, type PlacedFact, type StudyTable } from './facts.js';

// Guessed passwords (ATT&CK T1110): many for one account, few for many accounts, and what followed where one was right.

/** So many refusals of one account from one address are guesses; and so many accounts refused from one address. */
const GUESSES = 5;
const ACCOUNTS = 5;
/** What is done after a sign-in is told for so long. */
const AFTERWARDS = HOUR;
const MAX_THEN = 6;

interface Tried {
  readonly address: string;
  readonly user: string;
  failed: number;
  readonly first: Instant;
  last: Instant;
  /** The first sign-in that was let in after a refusal. */
  entered: Instant | null;
  failedBefore: number;
  readonly place: { readonly file: string; readonly line: number };
}

/** Guesses for each account and address, with what followed; those that led in first. */
export function bruteForce(facts: readonly PlacedFact[]): StudyTable {
  const ordered = inOrder(facts);
  const tried = new Map<string, Tried>();
  const accounts = new Map<string, Set<string>>();
  for (const fact of ordered) {
    if (fact.kind !== 'signin' || fact.operation !== 'session.start') continue;
    const address = fact.address ?? fact.fromHost ?? 'not told';
    const user = fact.user ?? 'not told';
    const key = JSON.stringify([address, user]);
    const known = tried.get(key);
    if (fact.outcome === 'success') {
      if (known === undefined || known.entered !== null) continue;
      known.entered = fact.time;
      known.failedBefore = known.failed;
    } else if (fact.outcome === 'failure' || fact.outcome === 'blocked') {
      const one: Tried = known ?? {
        address,
        user,
        failed: 0,
        first: fact.time,
        last: fact.time,
        entered: null,
        failedBefore: 0,
        place: fact,
      };
      one.failed++;
      one.last = fact.time;
      tried.set(key, one);
      const of = accounts.get(address) ?? new Set<string>();
      accounts.set(address, of.add(user));
    }
  }
  const guesses = [...tried.values()].filter(
    ({ failed, address }) => failed >= GUESSES || (accounts.get(address)?.size ?? 0) >= ACCOUNTS,
  );
  const byUser = new Map<string, PlacedFact[]>();
  const entered = new Set(guesses.filter((one) => one.entered !== null).map(({ user }) => user));
  for (const fact of ordered)
    if (fact.user !== null && entered.has(fact.user))
      (byUser.get(fact.user) ?? byUser.set(fact.user, []).get(fact.user))?.push(fact);
  guesses.sort(
    (a, b) =>
      Number(b.entered !== null) - Number(a.entered !== null) || b.failed - a.failed || a.first - b.first,
  );
  return {
    study: 'brute-force',
    title: 'Guesses by account and address, with what followed',
    columns: [
      'user',
      'from',
      'failed',
      'first',
      'last',
      'accounts_from_there',
      'signed_in',
      'failed_before',
      'then',
      'file',
      'line',
    ],
    rows: guesses.map((one): Json[] => [
      one.user,
      one.address,
      one.failed,
      formatInstant(one.first),
      formatInstant(one.last),
      accounts.get(one.address)?.size ?? 0,
      one.entered === null ? null : formatInstant(one.entered),
      one.entered === null ? null : one.failedBefore,
      one.entered === null ? null : thenDone(byUser.get(one.user) ?? [], one.entered),
      one.place.file,
      one.place.line,
    ]),
    notes: [
      `Told from ${GUESSES} refusals of one account from one address, or ${ACCOUNTS} accounts refused from one address.`,
    ],
  };
}

/** What a user did within an hour of being let in, the most frequent first. */
function thenDone(facts: readonly PlacedFact[], since: Instant): string {
  const counts = new Map<string, number>();
  for (const { time, operation, outcome } of facts) {
    if (time <= since || time > since + AFTERWARDS || operation === '') continue;
    const word = outcome === 'failure' || outcome === 'blocked' ? `${operation} (${outcome})` : operation;
    counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  const ranked = [...counts].sort((a, b) => b[1] - a[1]);
  const told = ranked.slice(0, MAX_THEN).map(([word, n]) => (n === 1 ? word : `${word} ×${n}`));
  if (ranked.length > MAX_THEN) told.push(`${ranked.length - MAX_THEN} more`);
  return told.length === 0 ? 'nothing within an hour' : told.join(', ');
}
