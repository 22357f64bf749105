import { formatInstant, HOUR } from '../../core/base/instant.js';
import { crossingMorning } from '../../demo/generate/index.js';
import type { Workbench } from './workbench.js';

/**
 * A Beam of a day that holds the last night and the morning of the demo's story, whatever the time of day: "last 24 h"
 * holds it at some hours only, since its morning is the last of which all has come in.
 * @param zone of its times
 */
export function storyBeam({ world }: Pick<Workbench, 'world'>, zone: string): string {
  const morning = crossingMorning(world?.end ?? Date.now() * 1000);
  return new URLSearchParams({
    from: formatInstant(morning - 11 * HOUR),
    to: formatInstant(morning + 13 * HOUR),
    zone,
  }).toString();
}
