import { apacheError } from './apache-error.js';
import { bind } from './bind.js';
import { dnsmasq } from './dnsmasq.js';
import { journald } from './journald.js';
import { linuxAudit } from './linux-audit.js';
import { linuxAuth } from './linux-auth.js';
import { linuxFirewall } from './linux-firewall.js';
import { nginxError } from './nginx-error.js';
import { ocsf } from './ocsf.js';
import { osEvents } from './os-events.js';
import { osEventsJson } from './os-events-json.js';
import { otlpLogs } from './otlp-logs.js';
import { postfix } from './postfix.js';
import { postgresqlCsv } from './postgresql-csv.js';
import { postgresqlJson } from './postgresql-json.js';
import { stixSightings } from './stix-sightings.js';
import { unbound } from './unbound.js';
import { webAccess } from './web-access.js';
import { webAccessJson } from './web-access-json.js';
import type { Instant } from '../../base/instant.js';
import type { ColumnName } from '../../events/columns.js';
import { type CompiledRecipe, compileRecipe } from '../apply.js';
import type { Recipe } from '../recipe-schema.js';

/** The recipes that come with the product, by their names. */
export const shippedRecipes: Readonly<Record<string, Recipe>> = {
  'apache-error': apacheError,
  bind: bind,
  dnsmasq: dnsmasq,
  journald: journald,
  'linux-audit': linuxAudit,
  'linux-auth': linuxAuth,
  'linux-firewall': linuxFirewall,
  'nginx-error': nginxError,
  ocsf: ocsf,
  'os-events': osEvents,
  'os-events-json': osEventsJson,
  'otlp-logs': otlpLogs,
  postfix: postfix,
  'postgresql-csv': postgresqlCsv,
  'postgresql-json': postgresqlJson,
  'stix-sightings': stixSightings,
  unbound: unbound,
  'web-access': webAccess,
  'web-access-json': webAccessJson,
};

/** So many records of a sample are read. */
const SAMPLE = 60;
/** A recipe that reads fewer of the records does not fit. */
const FITS = 0.6;

const compiled = new Map<Recipe, CompiledRecipe>();

/** A shipped recipe, made ready once. */
function readyOf(recipe: Recipe): CompiledRecipe {
  const known = compiled.get(recipe) ?? compileRecipe(recipe);
  compiled.set(recipe, known);
  return known;
}

/** Columns that a record of named fields must fill for a recipe to be meant for it. */
const LEAST_FILLED = 2;

/** How well a recipe reads a sample: the share of its records that became events with a meaning, 0..1. */
function fitOf(recipe: Recipe, sample: string, received: Instant): number {
  const ready = readyOf(recipe);
  const mapped = recipe.format === 'json' ? (Object.keys(recipe.map ?? {}) as ColumnName[]) : [];
  const records = ready.cut(sample).slice(0, SAMPLE);
  // The last record of a sample may be cut off in the middle.
  const whole = records.length > 1 ? records.slice(0, -1) : records;
  if (whole.length === 0) return 0;
  let score = 0;
  for (const record of whole) {
    const outcome = ready.apply(record, received);
    if (outcome.became === 'discarded') score += 0.7;
    if (outcome.became !== 'event') continue;
    // A record that has a time and nothing else of what the recipe looks for is somebody else's.
    const { draft } = outcome;
    const filled = mapped.filter((name) => name !== 'id' && draft[name] != null);
    if (filled.length < Math.min(LEAST_FILLED, mapped.length)) {
      score += 0.3;
      continue;
    }
    // Something read as what it is counts more than a line that only has a time.
    const { kind, user, src_ip: address, operation } = outcome.draft;
    const named = user != null || address != null;
    score += kind === 'system' ? (operation == null ? 0.62 : 0.8) : named ? 1 : 0.9;
  }
  return score / whole.length;
}

/**
 * The shipped recipes that read a sample, the best first.
 * @param sample the beginning of a file, or pasted records
 */
export function fittingShipped(
  sample: string,
  received: Instant,
): readonly { readonly recipe: Recipe; readonly fit: number }[] {
  return Object.values(shippedRecipes)
    .map((recipe) => ({ recipe, fit: fitOf(recipe, sample, received) }))
    .filter(({ fit }) => fit >= FITS)
    .sort((a, b) => b.fit - a.fit);
}

/** The shipped recipe that reads a sample best; null where none does. */
export const bestShipped = (sample: string, received: Instant): Recipe | null =>
  fittingShipped(sample, received)[0]?.recipe ?? null;
