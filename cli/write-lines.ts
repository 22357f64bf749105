let held: string[] = [];
let length = 0;
/** Characters that are written at once. */
const AT_ONCE = 1 << 16;

/** A line of what is written to standard output. */
export function writeLine(line: string): void {
  held.push(line);
  length += line.length + 1;
}

/** Writes the lines so far, where they are many, or all of them; whoever reads slowly is waited for. */
export async function flushLines(all: boolean): Promise<void> {
  if (length === 0 || (!all && length < AT_ONCE)) return;
  const text = `${held.join('\n')}\n`;
  held = [];
  length = 0;
  if (!process.stdout.write(text))
    await new Promise<void>((resolve) => process.stdout.once('drain', resolve));
}
