import { parseInstant } from '../base/instant.js';
import type { ColumnName } from '../events/columns.js';
import { canonicalAddress } from '../net/address.js';
import type { FieldCoverage } from './coverage.js';

/** A column that a field which is not mapped may belong to. */
export interface Suggestion {
  readonly field: string;
  readonly column: ColumnName | 'time';
  readonly because: string;
}

type Shape = 'address' | 'time' | 'number' | 'outcome' | 'text';

const OUTCOMES =
  /^(?:ok|success|succeeded|fail|failed|failure|denied|deny|allow|allowed|accept|reject|block|blocked|pass|drop)$/i;

function shapeOf(example: string): Shape {
  const text = example.trim();
  if (canonicalAddress(text) !== null) return 'address';
  // Seconds or milliseconds since 1970 of this century.
  if (
    /^1[0-9]{9}(?:[0-9]{3})?(?:\.\d+)?$/.test(text) ||
    (/\d{4}-\d\d-\d\d/.test(text) && parseInstant(text) !== null)
  )
    return 'time';
  if (/^-?\d+(?:\.\d+)?$/.test(text)) return 'number';
  return OUTCOMES.test(text) ? 'outcome' : 'text';
}

/** Names by which sources call things, the more particular first. The shape, where there is one, must agree. */
const hints: readonly (readonly [RegExp, ColumnName | 'time', Shape | null])[] = [
  [
    /(?:dst|dest|destination|target|server|remote_?dst).*(?:ip|addr|address)|^(?:dst|dest|destination)$/,
    'dst_ip',
    'address',
  ],
  [
    /(?:src|source|client|remote|origin|caller).*(?:ip|addr|address)|^(?:src|source|client|ip|address|ipaddress)$/,
    'src_ip',
    'address',
  ],
  [/(?:dst|dest|destination).*port|^dport$/, 'dst_port', 'number'],
  [/(?:src|source|client).*port|^sport$/, 'src_port', 'number'],
  [/(?:sub|sub_?status|status|result|error).*code|^status$/, 'status_code', null],
  [/event.*(?:id|code|type)$|^code$/, 'event_code', null],
  [/target.*(?:user|name|account|login)|subject_?user|grantee/, 'target_user', 'text'],
  [/(?:on_?behalf|assumed|acting|impersonat|run_?as|effective_?user)/, 'acting_as', 'text'],
  [/user_?agent|^agent$|browser/, 'user_agent', 'text'],
  [/(?:user|actor|principal|login|account).*id$/, 'user_id', null],
  [/(?:user|login|actor|principal|username|who)(?:_?name)?$/, 'user', 'text'],
  [/(?:host|computer|device|machine)(?:_?name)?$/, 'host', 'text'],
  [/(?:action|operation|verb|activity|event_?name|event)$/, 'operation', 'text'],
  [/(?:outcome|result|verdict|status|success|action)$/, 'outcome', 'outcome'],
  [/(?:reason|why|error|cause)$/, 'reason', 'text'],
  [/(?:proto|protocol)$/, 'protocol', null],
  [/(?:bytes?_?(?:in|received|rcvd)|rcvd)$/, 'bytes_in', 'number'],
  [/(?:bytes?_?(?:out|sent)?|sent)$/, 'bytes_out', 'number'],
  [/(?:packets?|pkts)$/, 'packets', 'number'],
  [/(?:rows|records|record_?count)$/, 'records', 'number'],
  [/(?:duration|elapsed|took)(?:_?ms)?$/, 'duration_ms', 'number'],
  [/(?:command_?line|cmd_?line|command)$/, 'command_line', 'text'],
  [/parent.*(?:process|image|name)/, 'parent_process', 'text'],
  [/(?:process|image|program)(?:_?name)?$/, 'process', 'text'],
  [/(?:message|msg|text|description|title)$/, 'message', 'text'],
  [/(?:session)(?:_?id)?$/, 'session', null],
  [/(?:country)(?:_?code|_?name)?$/, 'country', 'text'],
  [/(?:city)$/, 'city', 'text'],
  [/(?:app|application)(?:_?name)?$/, 'application', 'text'],
  [/(?:region)$/, 'region', 'text'],
  [/(?:group|role)(?:_?name)?$/, 'group_name', 'text'],
  [/(?:resource|object|bucket|file)(?:_?(?:id|name))?$/, 'resource', 'text'],
  [/(?:severity|level|grade)$/, 'severity', null],
  [/(?:time|timestamp|date|at|when|ts|_?seen|occurred)$/, 'time', 'time'],
];

/** The name of a field as the hints know names: its last part, in small letters, words joined by underscores. */
const plainName = (field: string): string =>
  field
    .replace(/([a-z0-9])([A-Z])/g, '$1_$2')
    .replace(/[\s-]+/g, '_')
    .toLowerCase();

function suggestFor({ field, example }: FieldCoverage): Suggestion | null {
  const shape = shapeOf(example);
  const whole = plainName(field);
  const last = whole.split('.').at(-1) ?? whole;
  // The names of what holds the field say more: `client.ip` is not `server.ip`.
  const joined = whole.replaceAll('.', '_');
  for (const [name, column, wanted] of hints) {
    if (wanted !== null && wanted !== shape) continue;
    if (name.test(last) || name.test(joined))
      return {
        field,
        column,
        because:
          wanted === null || wanted === 'text'
            ? 'by its name'
            : `by its name, and it is ${wanted === 'address' || wanted === 'outcome' ? `an ${wanted}` : `a ${wanted}`}`,
      };
  }
  if (shape === 'address') return { field, column: 'src_ip', because: 'it is an address' };
  return null;
}

/**
 * Columns for the fields that a recipe leaves under `original`, by their names and the shape of their values.
 * @param taken columns that are mapped already; none is suggested twice
 */
export function suggestColumns(coverage: readonly FieldCoverage[], taken: ReadonlySet<string>): Suggestion[] {
  const given = new Set(taken);
  const found: Suggestion[] = [];
  for (const one of coverage.filter(({ used }) => !used)) {
    const suggestion = suggestFor(one);
    if (suggestion === null || given.has(suggestion.column)) continue;
    given.add(suggestion.column);
    found.push(suggestion);
  }
  return found;
}
