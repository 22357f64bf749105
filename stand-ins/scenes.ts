import type { Instant } from '../core/base/instant.js';
import type { DemoRecord } from '../demo/generate/record.js';
import { Random } from '../demo/random.js';
import { scenes } from '../demo/scenes/index.js';
import type { Sender } from './sender.js';

/** How a scene stands. */
export interface Playing {
  readonly started: Instant;
  readonly total: number;
  sent: number;
}

/** Plays scenes: sends each record when its time has come. */
export class Stage {
  readonly playing = new Map<string, Playing>();
  private waiting: { scene: string; record: DemoRecord }[] = [];

  constructor(
    private readonly sender: Sender,
    private readonly now: () => Instant,
    /** What a firewall stands before: it never comes in. */
    private readonly isDropped: (record: DemoRecord) => boolean = () => false,
  ) {}

  /** Begins a scene. @returns false when there is none of that name, or it is being played already */
  play(name: string): boolean {
    const scene = scenes.find((one) => one.name === name);
    if (scene === undefined || this.waiting.some((one) => one.scene === name)) return false;
    const now = this.now();
    const records = scene.play(new Random(`${name} ${now}`), now);
    this.playing.set(name, { started: now, total: records.length, sent: 0 });
    this.waiting.push(...records.map((record) => ({ scene: name, record })));
    return true;
  }

  /** Sends what has become due. */
  async round(): Promise<void> {
    const now = this.now();
    const due = this.waiting.filter(({ record }) => record.received <= now);
    if (due.length === 0) return;
    try {
      await this.sender.send(due.map(({ record }) => record).filter((record) => !this.isDropped(record)));
    } catch {
      // The server may be starting or stopping: the same records are tried again.
      return;
    }
    this.waiting = this.waiting.filter((one) => !due.includes(one));
    for (const { scene } of due) {
      const state = this.playing.get(scene);
      if (state !== undefined) state.sent++;
    }
  }
}
