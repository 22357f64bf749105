/** What a stand-in keeps to show; the oldest are let go. */
const MAX_KEPT = 300;

/** Things that came in, each once by its key. */
export class Kept<T> {
  private readonly held = new Map<string, T>();

  /** @returns false for what is there already */
  add(key: string, thing: T): boolean {
    if (this.held.has(key)) return false;
    this.held.set(key, thing);
    const [oldest] = this.held.keys();
    if (this.held.size > MAX_KEPT && oldest !== undefined) this.held.delete(oldest);
    return true;
  }

  get(key: string): T | undefined {
    return this.held.get(key);
  }

  /** The newest first. */
  all(): [string, T][] {
    return [...this.held].reverse();
  }
}
