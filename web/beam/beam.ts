import { DateTime, IANAZone } from 'luxon';
import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';

/** What the lamp shines on, carried to every view in the address: a window of time and a zone. */
export interface Beam {
  /** ISO text in UTC; from inclusive, to exclusive. */
  readonly window: { readonly from: string; readonly to: string };
  /** The preset the window follows, such as `24h`; null for exact times. */
  readonly last: string | null;
  readonly zone: string;
  /** Whether what comes in is shown as it does. */
  readonly live: boolean;
  /** Conditions that hold besides, such as `user = 'teo.marrash'`. */
  readonly carried: readonly string[];
}

/** Windows that end now, and their lengths in minutes. */
export const presets = [
  { last: '15m', minutes: 15, label: 'Last 15 minutes' },
  { last: '1h', minutes: 60, label: 'Last hour' },
  { last: '4h', minutes: 240, label: 'Last 4 hours' },
  { last: '24h', minutes: 1440, label: 'Last 24 hours' },
  { last: '7d', minutes: 10_080, label: 'Last 7 days' },
  { last: '30d', minutes: 43_200, label: 'Last 30 days' },
] as const;

const USUAL = '24h';

/** The parameters of the address that belong to the Beam, in their order. */
export const BEAM_PARAMETERS = ['last', 'from', 'to', 'zone', 'live', 'carry'] as const;

/** More conditions are not carried. */
export const MAX_CARRIED = 20;

const ownZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
const iso = (time: DateTime): string => time.toUTC().toISO({ suppressMilliseconds: true }) ?? '';

/** Reads the Beam off an address. What cannot be read falls back to the last 24 hours in the zone of the browser. */
export function readBeam(parameters: URLSearchParams, now: DateTime): Beam {
  const asked = parameters.get('zone') ?? ownZone();
  const zone = IANAZone.isValidZone(asked) ? asked : 'UTC';
  const live = parameters.get('live') === '1';
  const carried = [...new Set(parameters.getAll('carry'))].slice(0, MAX_CARRIED);
  const from = DateTime.fromISO(parameters.get('from') ?? '', { zone: 'utc' });
  const to = DateTime.fromISO(parameters.get('to') ?? '', { zone: 'utc' });
  if (from.isValid && to.isValid && from < to)
    return { window: { from: iso(from), to: iso(to) }, last: null, zone, live, carried };
  const preset = presets.find(({ last }) => last === (parameters.get('last') ?? USUAL)) ?? presets[3];
  return {
    window: { from: iso(now.minus({ minutes: preset.minutes })), to: iso(now) },
    last: preset.last,
    zone,
    live,
    carried,
  };
}

export type BeamChange =
  | { readonly last: string }
  | { readonly from: string; readonly to: string }
  | { readonly zone: string }
  | { readonly live: boolean }
  | { readonly carried: readonly string[] };

/** The address with a change of the Beam in it. */
export function writeBeam(parameters: URLSearchParams, change: BeamChange): URLSearchParams {
  const next = new URLSearchParams(parameters);
  if ('zone' in change) next.set('zone', change.zone);
  else if ('carried' in change) {
    next.delete('carry');
    for (const condition of change.carried) next.append('carry', condition);
  } else if ('live' in change) {
    if (change.live) next.set('live', '1');
    else next.delete('live');
  } else {
    for (const name of ['last', 'from', 'to']) next.delete(name);
    for (const [name, value] of Object.entries(change)) next.set(name, value);
  }
  return next;
}

/**
 * The Beam of the page. A window that follows the clock stands still until `asked` changes, so that what is on
 * screen belongs together.
 * @param asked when the question was asked, milliseconds
 */
export function useBeam(asked: number): { beam: Beam; change: (change: BeamChange) => void } {
  const [parameters, setParameters] = useSearchParams();
  const beam = useMemo(() => readBeam(parameters, DateTime.fromMillis(asked)), [parameters, asked]);
  const change = useCallback(
    (next: BeamChange) => setParameters((before) => writeBeam(before, next)),
    [setParameters],
  );
  return { beam, change };
}

/** The part of an address that carries the Beam to another place. */
export function beamSearch(parameters: URLSearchParams): string {
  const kept = new URLSearchParams();
  for (const name of BEAM_PARAMETERS) for (const value of parameters.getAll(name)) kept.append(name, value);
  const text = kept.toString();
  return text === '' ? '' : `?${text}`;
}
