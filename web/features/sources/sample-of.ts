/** So much of a file is looked at before it is sent. */
const SAMPLE_BYTES = 200_000;

/** The beginning of a file as text, unpacked where it begins as gzip does (RFC 1952). */
export async function sampleOf(file: Blob): Promise<string> {
  const head = new Uint8Array(await file.slice(0, SAMPLE_BYTES).arrayBuffer());
  if (head[0] !== 0x1f || head[1] !== 0x8b) return new TextDecoder().decode(head);
  const reader = new Blob([head]).stream().pipeThrough(new DecompressionStream('gzip')).getReader();
  const chunks: Uint8Array[] = [];
  try {
    for (let size = 0; size < SAMPLE_BYTES;) {
      const { done, value } = await reader.read();
      if (done) break;
      chunks.push(value);
      size += value.length;
    }
  } catch {
    // The beginning of a packed file breaks off; what came out of it is enough.
  }
  void reader.cancel().catch(() => undefined);
  return new TextDecoder().decode(await new Blob(chunks as BlobPart[]).arrayBuffer()).slice(0, SAMPLE_BYTES);
}
