/** Finds which of many texts occur in another, in one pass whatever their number. */
export interface MultiSearch {
  /** Calls back with the position of each text that occurs in `text`, possibly more than once. */
  (text: string, found: (position: number) => void): void;
}

const ASCII = 128;

/**
 * Prepares the search for many texts at once by the automaton of A. Aho and M. Corasick, 'Efficient string matching',
 * CACM 18 (1975), with every step written out, so that a character costs one look into a table.
 * @param needles texts of at least one character, all ASCII
 */
export function multiSearch(needles: readonly string[]): MultiSearch {
  // Characters that occur in no needle are all alike: class 0.
  const classOf = new Uint8Array(ASCII);
  let classes = 1;
  for (const needle of needles)
    for (let i = 0; i < needle.length; i++) {
      const code = needle.charCodeAt(i);
      if (classOf[code] === 0) classOf[code] = classes++;
    }
  const most = needles.reduce((sum, needle) => sum + needle.length, 1);
  const next = new Int32Array(most * classes);
  const ends: number[][] = [[]];
  let states = 1;
  needles.forEach((needle, position) => {
    let state = 0;
    for (let i = 0; i < needle.length; i++) {
      const at = state * classes + (classOf[needle.charCodeAt(i)] ?? 0);
      if (next[at] === 0) {
        next[at] = states++;
        ends.push([]);
      }
      state = next[at] ?? 0;
    }
    ends[state]?.push(position);
  });
  // State by state from the root: where a needle does not go on, what its longest suffix would do is done.
  const fallback = new Int32Array(states);
  const queue: number[] = [];
  for (let character = 1; character < classes; character++)
    if (next[character]) queue.push(next[character] ?? 0);
  for (let head = 0; head < queue.length; head++) {
    const state = queue[head] ?? 0;
    const back = fallback[state] ?? 0;
    ends[state]?.push(...(ends[back] ?? []));
    for (let character = 1; character < classes; character++) {
      const at = state * classes + character;
      const target = next[at] ?? 0;
      if (target === 0) next[at] = next[back * classes + character] ?? 0;
      else {
        fallback[target] = next[back * classes + character] ?? 0;
        queue.push(target);
      }
    }
  }
  const outputs = ends.map((positions) => (positions.length === 0 ? null : positions));
  return (text, found) => {
    let state = 0;
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      state = code < ASCII ? (next[state * classes + (classOf[code] ?? 0)] ?? 0) : 0;
      const hits = outputs[state];
      if (hits != null) for (const position of hits) found(position);
    }
  };
}
