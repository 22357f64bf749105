import { addressKey } from '../../core/net/address.js';

/** A value as the data section of an MMDB file holds it (format specification 2.0, 'Data Section'). */
function encode(value: unknown): Buffer {
  const head = (type: number, size: number): Buffer => {
    const short =
      size < 29 ? [size] : size < 285 ? [29, size - 29] : [30, (size - 285) >> 8, (size - 285) & 255];
    const [first = 0, ...more] = short;
    return type < 8 ? Buffer.from([(type << 5) | first, ...more]) : Buffer.from([first, type - 7, ...more]);
  };
  if (typeof value === 'string')
    return Buffer.concat([head(2, Buffer.byteLength(value)), Buffer.from(value)]);
  if (typeof value === 'number' && Number.isInteger(value) && value >= 0) {
    const bytes = Buffer.alloc(4);
    bytes.writeUInt32BE(value);
    return Buffer.concat([head(6, 4), bytes]);
  }
  if (typeof value === 'number') {
    const bytes = Buffer.alloc(8);
    bytes.writeDoubleBE(value);
    return Buffer.concat([head(3, 8), bytes]);
  }
  if (Array.isArray(value)) return Buffer.concat([head(11, value.length), ...value.map(encode)]);
  const entries = Object.entries(value as object);
  return Buffer.concat([head(7, entries.length), ...entries.flatMap(([k, v]) => [encode(k), encode(v)])]);
}

/** The metadata section begins after these bytes. */
const MARKER = Buffer.from('abcdef4d61784d696e642e636f6d', 'hex');

/** Writes an MMDB file of IPv4 networks: 24-bit records in a tree of 128 bits, data, metadata. */
export function mmdbFile(networks: Readonly<Record<string, unknown>>): Buffer {
  type Node = [Node | number | null, Node | number | null];
  const root: Node = [null, null];
  const data: Buffer[] = [];
  let size = 0;
  for (const [network, record] of Object.entries(networks)) {
    const [address = '', length = '32'] = network.split('/');
    const numbers = address.split('.').map(Number);
    if (addressKey(address) === null) throw new Error(`${network} is no network`);
    const bits = '0'.repeat(96) + numbers.map((n) => n.toString(2).padStart(8, '0')).join('');
    const used = bits.slice(0, 96 + Number(length));
    let at = root;
    for (const bit of used.slice(0, -1)) {
      const next = at[Number(bit) as 0 | 1];
      if (Array.isArray(next)) at = next;
      else {
        const made: Node = [null, null];
        at[Number(bit) as 0 | 1] = made;
        at = made;
      }
    }
    at[Number(used.at(-1)) as 0 | 1] = size;
    const encoded = encode(record);
    data.push(encoded);
    size += encoded.length;
  }
  const nodes: Node[] = [];
  const number = (node: Node): void => {
    nodes.push(node);
    for (const side of node) if (Array.isArray(side)) number(side);
  };
  number(root);
  const tree = Buffer.alloc(nodes.length * 6);
  nodes.forEach((node, i) =>
    node.forEach((side, s) => {
      const record =
        side === null ? nodes.length : Array.isArray(side) ? nodes.indexOf(side) : nodes.length + 16 + side;
      tree.writeUIntBE(record, i * 6 + s * 3, 3);
    }),
  );
  const metadata = encode({
    node_count: nodes.length,
    record_size: 24,
    ip_version: 6,
    database_type: 'test',
    languages: ['en'],
    binary_format_major_version: 2,
    binary_format_minor_version: 0,
    build_epoch: 1,
    description: { en: 'test' },
  });
  return Buffer.concat([tree, Buffer.alloc(16), ...data, MARKER, metadata]);
}
