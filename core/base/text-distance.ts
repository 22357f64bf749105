/**
 * Levenshtein distance: the least number of single-sign insertions, deletions and replacements.
 * Source: V. I. Levenshtein, 1966; two-row dynamic programme of Wagner and Fischer, 1974.
 * @param a, b compared by code point
 * @returns 0 when equal, at most the longer length
 */
export function editDistance(a: string, b: string): number {
  const left = Array.from(a);
  const right = Array.from(b);
  let row = Array.from({ length: right.length + 1 }, (_, i) => i);
  for (let i = 1; i <= left.length; i++) {
    const next = [i];
    for (let j = 1; j <= right.length; j++) {
      const swap = (row[j - 1] ?? 0) + (left[i - 1] === right[j - 1] ? 0 : 1);
      next.push(Math.min(swap, (row[j] ?? 0) + 1, (next[j - 1] ?? 0) + 1));
    }
    row = next;
  }
  return row[right.length] ?? 0;
}

/**
 * The candidate nearest to a mistyped word by edit distance, ignoring case; the earlier of equals.
 * @returns undefined only when there are no candidates
 */
export function nearestWord(word: string, candidates: Iterable<string>): string | undefined {
  const lower = word.toLowerCase();
  let best: string | undefined;
  let bestDistance = Infinity;
  for (const candidate of candidates) {
    if (Math.abs(candidate.length - lower.length) >= bestDistance) continue;
    const distance = editDistance(lower, candidate.toLowerCase());
    if (distance < bestDistance) {
      best = candidate;
      bestDistance = distance;
    }
  }
  return best;
}
