import { formatInstant, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { inOrder, type PlacedFact, type StudyTable } from './facts.js';

// Sign-ins between machines (ATT&CK tactic TA0008): who came from where to where, by what means, how often, and what
// reached the machine it came from before.

interface Movement {
  readonly from: string;
  readonly to: string;
  readonly user: string;
  readonly how: string;
  succeeded: number;
  failed: number;
  readonly first: Instant;
  last: Instant;
  /** When the first sign-in that was let in happened; null while there is none. */
  reached: Instant | null;
  readonly place: { readonly file: string; readonly line: number };
}

/** Pictures with more machines are no pictures: those that reach or are reached most are drawn. */
const MAX_NODES = 40;
const LOCAL = /^(?:127\.|::1$|0\.0\.0\.0$|localhost$|-$)/i;

const bare = (host: string): string => host.toLowerCase().replace(/^\\\\/, '').split('.')[0] ?? '';

/** Names of machines by the addresses that records tell together with them; an address with several names keeps none. */
function namesByAddress(facts: readonly PlacedFact[]): ReadonlyMap<string, string> {
  const names = new Map<string, string | null>();
  for (const { address, fromHost } of facts) {
    if (address === null || fromHost === null || LOCAL.test(address)) continue;
    const known = names.get(address);
    if (known === undefined) names.set(address, bare(fromHost));
    else if (known !== bare(fromHost)) names.set(address, null);
  }
  return new Map([...names].filter((pair): pair is [string, string] => pair[1] !== null));
}

/** Sign-ins, and services that were put on a machine from another, between machines. */
export function lateralMovement(facts: readonly PlacedFact[]): StudyTable {
  const names = namesByAddress(facts);
  const found = new Map<string, Movement>();
  let fromNowhere = 0;
  for (const fact of inOrder(facts)) {
    const { kind, operation, outcome, host, time } = fact;
    const moves =
      (kind === 'signin' && operation === 'session.start') ||
      (operation === 'service.install' && fact.fromHost !== null);
    if (!moves || host === null) continue;
    const from = fact.fromHost ?? (fact.address === null ? null : (names.get(fact.address) ?? fact.address));
    if (from === null || LOCAL.test(from)) {
      fromNowhere++;
      continue;
    }
    const [named, to] = [/^[\d.]+$|:/.test(from) ? from : bare(from), bare(host)];
    if (named === to) continue;
    const user = fact.user ?? '';
    const how = operation === 'service.install' ? `service ${fact.what ?? ''}`.trim() : (fact.how ?? '');
    // Why a guess failed does not make it another way in.
    const way = outcome === 'success' ? how : '';
    const key = JSON.stringify([named, to, user, way]);
    const movement: Movement = found.get(key) ?? {
      from: named,
      to,
      user,
      how: way === '' ? how : way,
      succeeded: 0,
      failed: 0,
      first: time,
      last: time,
      reached: null,
      place: fact,
    };
    found.set(key, movement);
    movement.last = time;
    if (outcome === 'success') {
      movement.succeeded++;
      movement.reached ??= time;
    } else movement.failed++;
  }
  const movements = [...found.values()];
  const edges = new Map<string, { from: string; to: string; count: number }>();
  for (const { from, to, succeeded } of movements) {
    if (succeeded === 0) continue;
    const key = JSON.stringify([from, to]);
    const edge = edges.get(key) ?? { from, to, count: 0 };
    edges.set(key, edge);
    edge.count += succeeded;
  }
  const weight = new Map<string, number>();
  for (const { from, to, count } of edges.values())
    for (const node of [from, to]) weight.set(node, (weight.get(node) ?? 0) + count);
  const nodes = [...weight]
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, MAX_NODES)
    .map(([node]) => node);
  const drawn = new Set(nodes);
  return {
    study: 'lateral-movement',
    title: 'Sign-ins between machines',
    columns: ['from', 'to', 'user', 'how', 'succeeded', 'failed', 'first', 'last', 'after', 'file', 'line'],
    rows: movements.map((movement): Json[] => [
      movement.from,
      movement.to,
      movement.user,
      movement.how,
      movement.succeeded,
      movement.failed,
      formatInstant(movement.first),
      formatInstant(movement.last),
      cameFrom(movement, movements),
      movement.place.file,
      movement.place.line,
    ]),
    graph: {
      nodes,
      edges: [...edges.values()].filter(({ from, to }) => drawn.has(from) && drawn.has(to)),
    },
    notes: [
      ...(fromNowhere > 0 ? [`${fromNowhere} sign-ins tell no other machine that they came from.`] : []),
      ...(weight.size > MAX_NODES ? [`The picture shows ${MAX_NODES} of ${weight.size} machines.`] : []),
    ],
  };
}

/** The movement by which the same user had reached the machine that this one left from: the newest before it. */
function cameFrom(movement: Movement, all: readonly Movement[]): string | null {
  const before = all.filter(
    ({ to, user, reached }) =>
      to === movement.from && user === movement.user && reached !== null && reached <= movement.first,
  );
  const [last] = before.sort((a, b) => (b.reached ?? 0) - (a.reached ?? 0));
  return last === undefined ? null : `${last.from} → ${last.to}`;
}
