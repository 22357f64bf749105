/** Tables for eight bytes at once ("slicing by 8"), made when they are first asked for. */
let tables: readonly Int32Array[] | undefined;

function makeTables(): readonly Int32Array[] {
  const first = Int32Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c;
  });
  const made = [first];
  for (let k = 1; k < 8; k++) {
    const before = made[k - 1] ?? first;
    made.push(before.map((c) => (c >>> 8) ^ (first[c & 0xff] ?? 0)));
  }
  return made;
}

/** CRC-32 (RFC 1952, section 8). @param before that of the bytes that come first */
export function crc32(bytes: Uint8Array, before = 0): number {
  const [t0, t1, t2, t3, t4, t5, t6, t7] = (tables ??= makeTables()) as unknown as readonly [
    Int32Array,
    Int32Array,
    Int32Array,
    Int32Array,
    Int32Array,
    Int32Array,
    Int32Array,
    Int32Array,
  ];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const whole = bytes.length & ~7;
  let crc = ~before;
  let i = 0;
  for (; i < whole; i += 8) {
    const low = crc ^ view.getInt32(i, true);
    const high = view.getInt32(i + 4, true);
    crc =
      (t7[low & 0xff] ?? 0) ^
      (t6[(low >>> 8) & 0xff] ?? 0) ^
      (t5[(low >>> 16) & 0xff] ?? 0) ^
      (t4[low >>> 24] ?? 0) ^
      (t3[high & 0xff] ?? 0) ^
      (t2[(high >>> 8) & 0xff] ?? 0) ^
      (t1[(high >>> 16) & 0xff] ?? 0) ^
      (t0[high >>> 24] ?? 0);
  }
  for (; i < bytes.length; i++) crc = (t0[(crc ^ (bytes[i] ?? 0)) & 0xff] ?? 0) ^ (crc >>> 8);
  return ~crc >>> 0;
}
