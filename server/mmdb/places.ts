import { readFileSync } from 'node:fs';
import { Reader } from 'mmdb-lib';
import { isJsonObject, type Json, type JsonObject } from '../../core/base/json.js';
import { memoOfText } from '../../core/base/memo.js';
import { addressKey } from '../../core/net/address.js';
import type { ListLookup } from '../../core/recipes/apply.js';
import { fieldReader } from '../../core/recipes/field-path.js';

/** The list that files of networks stand behind: what the list does not know is looked for in them. */
const NETWORKS_LIST = 'networks';

/** As the lookups of lists take it. */
export const behindNetworks = (places: ListLookup | null): ReadonlyMap<string, ListLookup> =>
  new Map(places === null ? [] : [[NETWORKS_LIST, places]]);

/** A file that is no MMDB. */
export class MmdbError extends Error {
  override readonly name = 'MmdbError';
}

/**
 * Where the columns of the networks list are found in the records of such files. The format leaves the names of
 * fields open; these are the layouts in use, the plainest first.
 */
const LAYOUTS: Readonly<Record<string, readonly string[]>> = {
  country: ['country.names.en', 'country_name', 'country', 'country.iso_code', 'country_code'],
  city: ['city.names.en', 'city', 'city_name'],
  lat: ['location.latitude', 'latitude', 'lat'],
  lon: ['location.longitude', 'longitude', 'lon', 'lng'],
  asn: ['autonomous_system_number', 'asn', 'as_number'],
  as_name: ['autonomous_system_organization', 'as_name', 'as_organization'],
};

const columns = Object.entries(LAYOUTS).map(
  ([column, paths]) => [column, paths.map((path) => fieldReader(path))] as const,
);

/** Columns of a record, whatever its layout; `AS64500` and 64500 are the same number. */
export function placeOf(record: JsonObject): JsonObject {
  const row: Record<string, Json> = {};
  for (const [column, readers] of columns) {
    const value = readers.map((read) => read(record)).find((found) => found !== null && !isJsonObject(found));
    if (value === undefined) continue;
    row[column] = column === 'asn' && typeof value === 'string' ? Number(value.replace(/^AS/i, '')) : value;
  }
  return row;
}

/**
 * Opens files in the MMDB format (binary search tree over addresses, format specification 2.0), such as one of places
 * and one of autonomous systems; what the first does not say, the next may.
 * @throws MmdbError naming the file
 */
export function openPlaces(files: readonly string[]): ListLookup {
  const readers = files.map((file) => {
    try {
      return new Reader<never>(readFileSync(file));
    } catch (error) {
      throw new MmdbError(
        `${file} cannot be read as MMDB: ${error instanceof Error ? error.message : 'unreadable'}`,
        { cause: error },
      );
    }
  });
  return memoOfText((text) => {
    const address = text.trim();
    if (addressKey(address) === null) return undefined;
    const found = readers
      .map((reader): Json => reader.get(address))
      .filter(isJsonObject)
      .map(placeOf);
    return found.length === 0 ? undefined : found.reduceRight((later, first) => ({ ...later, ...first }));
  });
}
