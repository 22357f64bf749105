/**
 * The canonical columns of every event: name, type, plain words, and where the reading panel puts them.
 * Storage, recipes, Wick and the interface all read this one table.
 */
export type ColumnType = 'text' | 'number' | 'time' | 'address' | 'texts' | 'addresses' | 'any';
export type ColumnGroup = 'keep' | 'when' | 'what' | 'who' | 'from' | 'to' | 'much' | 'program' | 'cloud';

export interface ColumnDef {
  readonly type: ColumnType;
  readonly group: ColumnGroup;
  readonly meaning: string;
  /** Holds whole numbers only. */
  readonly integer?: true;
  /** The largest number there is of it. */
  readonly max?: number;
  /** Names a user or host: trimmed and lower-cased on the way in. */
  readonly identity?: true;
  /** Free text of any length, never looked up by its whole value. */
  readonly long?: true;
}

/**
 * UTF-8 bytes that a text column holds unless it is long: two such values fit one row of an index (PostgreSQL takes
 * about 2,700). What is longer is kept whole in `original`, and the column ends in `…`.
 */
export const MAX_COLUMN_BYTES = 1000;

/** The tag of an event one of whose columns holds only the beginning of its value. */
export const SHORTENED_TAG = 'shortened';

export const columns = {
  id: { type: 'text', group: 'keep', meaning: 'stable name of the event, derived from source and record' },
  time: { type: 'time', group: 'when', meaning: 'when it happened' },
  received: {
    type: 'time',
    group: 'when',
    meaning: 'when it came in; later than time by the lag of its source',
  },
  source: { type: 'text', group: 'what', meaning: 'the source it came from' },
  kind: { type: 'text', group: 'what', meaning: 'what sort of event it is' },
  operation: { type: 'text', group: 'what', meaning: 'what was done, such as session.start' },
  outcome: {
    type: 'text',
    group: 'what',
    meaning: 'how it ended: success, failure, blocked, allowed, unknown',
  },
  reason: { type: 'text', group: 'what', meaning: 'why it ended so' },
  severity: { type: 'text', group: 'what', meaning: 'how grave the source calls it' },
  event_code: { type: 'text', group: 'what', meaning: 'the code the source gives this sort of event' },
  status_code: { type: 'text', group: 'what', meaning: 'HTTP or service status' },
  message: { type: 'text', long: true, group: 'what', meaning: 'what the source says in words' },
  finding: {
    type: 'text',
    group: 'what',
    meaning: 'what another system calls it: detection name or attack type',
  },
  tags: { type: 'texts', group: 'what', meaning: 'marks set on the way in' },
  user: { type: 'text', group: 'who', meaning: 'who acted', identity: true },
  user_id: { type: 'text', group: 'who', meaning: 'the id of who acted' },
  user_type: { type: 'text', group: 'who', meaning: 'person, service, system' },
  acting_as: { type: 'text', group: 'who', meaning: 'whose identity was used meanwhile', identity: true },
  target_user: { type: 'text', group: 'who', meaning: 'whom it was done to', identity: true },
  target_id: { type: 'text', group: 'who', meaning: 'the id of whom or what it was done to' },
  group_name: { type: 'text', group: 'who', meaning: 'the group or role concerned' },
  application: { type: 'text', group: 'who', meaning: 'the application used' },
  user_agent: {
    type: 'text',
    long: true,
    group: 'who',
    meaning: 'the program and device the user came with',
  },
  session: { type: 'text', group: 'who', meaning: 'the session it belongs to' },
  src_ip: { type: 'address', group: 'from', meaning: 'the address it came from' },
  src_port: { type: 'number', group: 'from', meaning: 'the port it came from', integer: true, max: 65_535 },
  src_host: { type: 'text', group: 'from', meaning: 'the host it came from', identity: true },
  country: { type: 'text', group: 'from', meaning: 'country of the source address' },
  city: { type: 'text', group: 'from', meaning: 'city of the source address' },
  lat: { type: 'number', group: 'from', meaning: 'latitude of the source address, degrees' },
  lon: { type: 'number', group: 'from', meaning: 'longitude of the source address, degrees' },
  asn: {
    type: 'number',
    group: 'from',
    meaning: 'autonomous system number of the source address',
    integer: true,
  },
  as_name: { type: 'text', group: 'from', meaning: 'who runs the network of the source address' },
  via_ips: { type: 'addresses', group: 'from', meaning: 'proxies on the way, nearest first' },
  os: { type: 'text', group: 'from', meaning: 'operating system of the acting device' },
  host: { type: 'text', group: 'to', meaning: 'the host it happened on', identity: true },
  dst_ip: { type: 'address', group: 'to', meaning: 'the address it went to' },
  dst_port: { type: 'number', group: 'to', meaning: 'the port it went to', integer: true, max: 65_535 },
  dst_host: { type: 'text', group: 'to', meaning: 'the host it went to', identity: true },
  dst_country: { type: 'text', group: 'to', meaning: 'country of the address it went to' },
  protocol: { type: 'text', group: 'to', meaning: 'tcp, udp, icmp and the like' },
  interface: { type: 'text', group: 'to', meaning: 'network interface' },
  direction: { type: 'text', group: 'to', meaning: 'in, out or inside' },
  bytes_in: { type: 'number', group: 'much', meaning: 'bytes towards the source address', integer: true },
  bytes_out: { type: 'number', group: 'much', meaning: 'bytes away from the source address', integer: true },
  packets: { type: 'number', group: 'much', meaning: 'packets of the flow', integer: true },
  records: { type: 'number', group: 'much', meaning: 'records read or written', integer: true },
  duration_ms: { type: 'number', group: 'much', meaning: 'how long it took, milliseconds' },
  process: { type: 'text', group: 'program', meaning: 'name of the program' },
  process_path: { type: 'text', long: true, group: 'program', meaning: 'full path of the program' },
  process_id: { type: 'text', group: 'program', meaning: 'number of the process' },
  parent_process: { type: 'text', group: 'program', meaning: 'the program that started it' },
  command_line: { type: 'text', long: true, group: 'program', meaning: 'the whole command' },
  elevation: { type: 'text', group: 'program', meaning: 'rights of the program: limited, full, default' },
  logon_type: { type: 'text', group: 'program', meaning: 'way of signing in to a host' },
  service: { type: 'text', group: 'program', meaning: 'service concerned' },
  hashes: { type: 'texts', group: 'program', meaning: 'hashes of the program file' },
  account: { type: 'text', group: 'cloud', meaning: 'cloud account, subscription or organisation' },
  region: { type: 'text', group: 'cloud', meaning: 'region of the cloud' },
  resource: { type: 'text', group: 'cloud', meaning: 'the resource concerned' },
  resource_type: { type: 'text', group: 'cloud', meaning: 'what sort of resource' },
  resource_group: { type: 'text', group: 'cloud', meaning: 'the group the resource lies in' },
  changes: { type: 'any', group: 'cloud', meaning: 'fields changed: list of field, before, after' },
  entity: { type: 'text', group: 'cloud', meaning: 'business object read or changed' },
  query_text: { type: 'text', long: true, group: 'cloud', meaning: 'the query as it was asked' },
  original: { type: 'any', group: 'keep', meaning: "all of the source's own fields, unchanged" },
  raw: { type: 'text', long: true, group: 'keep', meaning: 'the record as it came' },
} as const satisfies Record<string, ColumnDef>;

export type ColumnName = keyof typeof columns;
export const columnNames = Object.keys(columns) as ColumnName[];

export const isColumnName = (name: string): name is ColumnName => Object.hasOwn(columns, name);

/** The definition of a column, with the optional marks visible to the type checker. */
export const columnDef = (name: ColumnName): ColumnDef => columns[name];

/** Columns a record cannot set: they are given by the store. */
export const keptColumns = [
  'id',
  'received',
  'source',
  'original',
  'raw',
] as const satisfies readonly ColumnName[];
