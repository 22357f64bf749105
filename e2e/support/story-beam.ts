const HOUR = 3_600_000;

/**
 * A Beam that holds the whole story of the demo, whatever the time of day: its morning is the last of which all has come in,
 * which may be longer ago than "last 24 h".
 * @param zone of its times
 */
export function storyBeam(zone: string): string {
  const now = Math.floor(Date.now() / HOUR) * HOUR;
  return new URLSearchParams({
    from: new Date(now - 36 * HOUR).toISOString(),
    to: new Date(now + HOUR).toISOString(),
    zone,
  }).toString();
}
