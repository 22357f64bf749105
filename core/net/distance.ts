import { roundHalfAway } from '../text/numbers.js';

/** Mean radius of the Earth in kilometres, as far as the language knows it. */
const EARTH_KM = 6371;

/** Decimals kept: a thousandth of a millimetre. Libraries differ in the last bit of a sine, and engines must agree. */
const PLACES = 9;

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/**
 * Great-circle distance by the haversine formula (R. W. Sinnott, 1984), Earth as a ball of 6371 km.
 * @param lat1, lon1, lat2, lon2 degrees
 * @returns kilometres, 0..20015; null outside -90..90 / -180..180
 */
export function distanceKm(lat1: number, lon1: number, lat2: number, lon2: number): number | null {
  if (![lat1, lat2].every((lat) => Math.abs(lat) <= 90) || ![lon1, lon2].every((lon) => Math.abs(lon) <= 180))
    return null;
  const sinLat = Math.sin(radians(lat2 - lat1) / 2);
  const sinLon = Math.sin(radians(lon2 - lon1) / 2);
  const h = sinLat * sinLat + Math.cos(radians(lat1)) * Math.cos(radians(lat2)) * sinLon * sinLon;
  return roundHalfAway(2 * EARTH_KM * Math.asin(Math.min(1, Math.sqrt(h))), PLACES);
}
