import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { canonicalAddress } from '../../core/net/address.js';
import { dossierPath, isSubjectKind } from '../../core/subjects/kinds.js';
import { recognise } from '../../core/subjects/recognise.js';
import { quoteText } from '../../core/wick/spell.js';
import type { Found } from '../../core/wire/dossiers.js';
import type { Identities } from './identities.js';
import { FIND_BY_ID, FIND_KEPT, FIND_RULES_TAGGED, FIND_SUBJECTS } from './sql.js';

/** Of each sort at most so many are looked at. */
const MAX_EACH = 12;

const places: readonly { readonly name: string; readonly address: string; readonly words: string }[] = [
  { name: 'Desk', address: '/desk', words: 'start overview today' },
  { name: 'Hunt', address: '/hunt', words: 'search events query' },
  { name: 'Alerts', address: '/alerts', words: 'queue' },
  { name: 'Cases', address: '/cases', words: 'investigations' },
  { name: 'Rules', address: '/rules', words: 'detections' },
  { name: 'Dashboards', address: '/dashboards', words: 'boards cards' },
  { name: 'Lists', address: '/lists', words: 'indicators reference' },
  { name: 'Sources', address: '/sources', words: 'logs data recipes set aside' },
  { name: 'Log sources', address: '/rules/log-sources', words: 'settings of rules' },
  { name: 'Destinations', address: '/rules/destinations', words: 'settings chat mail webhook deliveries' },
  { name: 'People', address: '/people', words: 'settings users roles' },
  { name: 'Clock', address: '/clock', words: 'settings jobs schedules' },
];

const huntAddress = (text: string): string => `/hunt?${new URLSearchParams({ q: text }).toString()}`;

interface Ranked extends Found {
  /** 0 the very name, 1 its beginning, 2 within it, 3 by something else. */
  readonly rank: number;
  readonly at: Instant;
}

/** Finds anything by a typed word: a name or part of one, an id, an address; or says how to hunt for it. */
export class Finder {
  constructor(
    private readonly pool: Pool,
    private readonly identities: Identities,
  ) {}

  /** What a word may mean, the exact ones first, then those used most recently; how to hunt for it comes last. */
  async find(typed: string, limit: number, person: string): Promise<Found[]> {
    const word = typed.trim();
    if (word === '') return [];
    const lower = word.toLowerCase();
    const what = recognise(word);
    const [subjects, byId, listed, kept, tagged] = await Promise.all([
      this.pool.query<{ kind: string; name: string; first: Instant; last: Instant }>(FIND_SUBJECTS, [
        lower,
        MAX_EACH,
        lower.replace(/[\\%_]/g, '\\$&'),
      ]),
      this.pool.query<{ pair: string; name: string; other: string; last: Instant }>(FIND_BY_ID, [
        canonicalAddress(word) ?? word,
        MAX_EACH,
      ]),
      Promise.all([this.identities.listed('user', word), this.identities.listed('host', word)]),
      this.pool.query<{
        kind: string;
        name: string;
        title: string;
        hunt: string | null;
        why: string;
        at: Instant | null;
      }>(FIND_KEPT, [lower, person, MAX_EACH]),
      what === 'technique'
        ? this.pool.query<{ id: string; title: string; state: string }>(FIND_RULES_TAGGED, [
            `attack.${lower}`,
            MAX_EACH,
          ])
        : { rows: [] },
    ]);
    const found: Ranked[] = [];
    for (const { kind, name, last } of subjects.rows)
      if (isSubjectKind(kind))
        found.push({
          kind,
          name,
          why: `${kind}, last seen ${formatInstant(last).slice(0, 16).replace('T', ' ')} UTC`,
          address: dossierPath(kind, name),
          rank: rankOf(name, lower),
          at: last,
        });
    for (const { pair, name, other, last } of byId.rows) {
      const kind = pair === 'user and id' ? 'user' : 'host';
      found.push({
        kind,
        name,
        why: `${other} was seen with it`,
        address: dossierPath(kind, name),
        rank: 1,
        at: last,
      });
    }
    for (const [i, rows] of listed.entries())
      for (const { row } of rows) {
        const kind = i === 0 ? 'user' : 'host';
        found.push({
          kind,
          name: row.name,
          why: `in the list ${row.list}`,
          address: dossierPath(kind, row.name),
          rank: 1,
          at: 0,
        });
      }
    for (const { kind, name, title, hunt, why, at } of kept.rows) {
      const address = addressOfKept(kind, name, hunt ?? '');
      if (address !== null)
        found.push({ ...address, name, title, why, rank: rankOf(title, lower), at: at ?? 0 });
    }
    for (const { id, title, state } of tagged.rows)
      found.push({
        kind: 'rule',
        name: id,
        title,
        why: `rule, ${state}: finds ${word.toUpperCase()}`,
        address: `/rules/${id}`,
        rank: 0,
        at: 0,
      });
    for (const { name, address, words } of places)
      if (name.toLowerCase().startsWith(lower) || words.split(' ').includes(lower))
        found.push({
          kind: 'place',
          name,
          why: 'place',
          address,
          rank: name.toLowerCase() === lower ? 0 : 1,
          at: 0,
        });
    if (what === 'address') {
      const address = canonicalAddress(word) ?? word;
      found.push({
        kind: 'address',
        name: address,
        why: 'address, never seen yet',
        address: dossierPath('address', address),
        rank: 0,
        at: -1,
      });
    }
    const known = new Set<string>();
    const unique = found
      .sort((a, b) => a.rank - b.rank || b.at - a.at || (a.name < b.name ? -1 : 1))
      .filter(({ address }) => !known.has(address) && known.add(address));
    return [
      ...unique.slice(0, Math.max(1, limit - 1)).map(({ rank: _rank, at: _at, ...one }) => one),
      huntFor(word, what),
    ].slice(0, limit);
  }
}

const rankOf = (name: string, lower: string): number => {
  const at = name.toLowerCase().indexOf(lower);
  return name.toLowerCase() === lower ? 0 : at === 0 ? 1 : at > 0 ? 2 : 3;
};

/** How to hunt for a word in the Beam, as exactly as its form allows. */
function huntFor(word: string, what: ReturnType<typeof recognise>): Found {
  const condition =
    what === 'address'
      ? `about address ${quoteText(word)}`
      : what === 'network'
        ? ['src_ip', 'dst_ip'].map((column) => `${column} within ${quoteText(word)}`).join(' or ')
        : what === 'hash'
          ? `hashes = ${quoteText(word.toLowerCase())} or has ${quoteText(word)}`
          : `has ${quoteText(word)}`;
  return {
    kind: 'hunt',
    name: word,
    title: 'Hunt for it in the Beam',
    why: what ?? 'anywhere in an event',
    address: huntAddress(`from all\nwhere ${condition}`),
  };
}

function addressOfKept(kind: string, name: string, hunt: string): Pick<Found, 'kind' | 'address'> | null {
  const at = encodeURIComponent(name);
  switch (kind) {
    case 'hunt':
      return { kind, address: huntAddress(hunt) };
    case 'board':
      return { kind, address: `/dashboards/${at}` };
    case 'rule':
      return { kind, address: `/rules/${at}` };
    case 'list':
      return { kind, address: `/lists/${at}` };
    case 'source':
      return { kind, address: `/sources/${at}` };
    case 'case':
      return { kind, address: `/cases/${at}` };
    case 'alert':
      return { kind, address: `/alerts/${at}` };
    default:
      return null;
  }
}
