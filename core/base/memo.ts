/**
 * Remembers what a function of a text gave. When the memory is full it is emptied: logs repeat few values at a time,
 * and bookkeeping of which is oldest would cost more than it saves.
 * @param most texts remembered at once
 */
export function memoOfText<T>(work: (text: string) => T, most = 10_000): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    const found = known.get(text);
    if (found !== undefined || known.has(text)) return found as T;
    const made = work(text);
    if (known.size >= most) known.clear();
    known.set(text, made);
    return made;
  };
}
