/** So much of a file is looked at before it is sent. */
const SAMPLE_BYTES = 200_000;

/** The beginning of a file as text: unpacked, in its encoding, binary event files as XML. */
export async function sampleOf(file: Blob): Promise<string> {
  const head = new Uint8Array(await file.slice(0, SAMPLE_BYTES).arrayBuffer());
  const { textOfHead } = await import('../../../core/formats/decode.js');
  return textOfHead(head).slice(0, SAMPLE_BYTES);
}
