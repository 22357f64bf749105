import type { ColumnName } from '../events/columns.js';

/** What a dossier can be about. */
export const subjectKinds = ['user', 'host', 'address', 'account', 'resource', 'application'] as const;
export type SubjectKind = (typeof subjectKinds)[number];

export const isSubjectKind = (word: string): word is SubjectKind =>
  (subjectKinds as readonly string[]).includes(word);

/** Where the dossier of a subject stands, from the root of the pages. */
export const dossierPath = (kind: SubjectKind, name: string): string =>
  `/dossier/${kind}/${encodeURIComponent(name)}`;

interface NamedBy {
  /** Columns that hold a name or id of it, whoever acted. */
  readonly names: readonly ColumnName[];
  /** Columns of addresses that stand for it while they are joined to it. */
  readonly addresses: readonly ColumnName[];
  /** The column that a value is compared with where one of them is to be shown. */
  readonly chief: ColumnName;
}

/** By which columns an event names a subject of each kind, in any role. */
export const namedBy: Readonly<Record<SubjectKind, NamedBy>> = {
  user: {
    names: ['user', 'target_user', 'acting_as', 'user_id', 'target_id'],
    addresses: [],
    chief: 'user',
  },
  host: { names: ['host', 'src_host', 'dst_host'], addresses: ['src_ip', 'dst_ip'], chief: 'host' },
  address: { names: ['src_ip', 'dst_ip', 'via_ips'], addresses: [], chief: 'src_ip' },
  account: { names: ['account'], addresses: [], chief: 'account' },
  resource: { names: ['resource', 'target_id'], addresses: [], chief: 'resource' },
  application: { names: ['application'], addresses: [], chief: 'application' },
};

/** The kinds of subject that the values of a column name, the likeliest first. */
export function kindsOfColumn(column: string): readonly SubjectKind[] {
  if (column === 'target_id') return ['resource', 'user'];
  return subjectKinds.filter((kind) => (namedBy[kind].names as readonly string[]).includes(column));
}
