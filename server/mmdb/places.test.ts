import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SourceCatalogue } from '../intake/catalogue.js';
import { readSettings, SettingError } from '../settings.js';
import { mmdbFile } from '../tests/mmdb.js';
import { Caller, testServer } from '../tests/server.js';
import { MmdbError, openPlaces, placeOf } from './places.js';

const folder = mkdtempSync(join(tmpdir(), 'mmdb-'));
const write = (name: string, content: Buffer | string): string => {
  writeFileSync(join(folder, name), content);
  return join(folder, name);
};
const places = write(
  'places.mmdb',
  mmdbFile({
    '198.18.40.0/24': {
      country: { names: { en: 'Farland' }, iso_code: 'FL' },
      location: { latitude: 61.5, longitude: -30.25 },
    },
    '203.0.113.0/24': { country: 'Nearland', city: 'Kell' },
  }),
);
const systems = write(
  'systems.mmdb',
  mmdbFile({
    '198.18.0.0/15': { autonomous_system_number: 64_666, autonomous_system_organization: 'Grey Wave' },
  }),
);

it('finds an address in every file, what the first says going before', () => {
  const find = openPlaces([places, systems]);
  expect(find('198.18.40.7')).toEqual({
    country: 'Farland',
    lat: 61.5,
    lon: -30.25,
    asn: 64_666,
    as_name: 'Grey Wave',
  });
  expect(find('198.19.1.1')).toEqual({ asn: 64_666, as_name: 'Grey Wave' });
  expect(find(' 203.0.113.9 ')).toEqual({ country: 'Nearland', city: 'Kell' });
  expect(find('10.1.1.1')).toBeUndefined();
  expect(find('no address')).toBeUndefined();
});

it.each([
  [
    { asn: 'AS64500', latitude: 1, lng: 2 },
    { asn: 64_500, lat: 1, lon: 2 },
  ],
  [
    { country: { iso_code: 'FL' }, city: { names: { en: 'Kell' } } },
    { country: 'FL', city: 'Kell' },
  ],
  [{ unknown: 1 }, {}],
])('reads %j', (record, row) => {
  expect(placeOf(record as never)).toEqual(row);
});

it('tells which file is none', () => {
  const broken = write('broken.mmdb', 'not a database');
  expect(() => openPlaces([places, broken])).toThrow(MmdbError);
  expect(() => openPlaces([broken])).toThrow(/broken\.mmdb cannot be read as MMDB/);
  const env = { DATABASE_URL: 'postgres://x', UNDER_LAMP_SECRET: 'sixteen characters and more' };
  expect(
    readSettings({ ...env, UNDER_LAMP_MMDB: `${places}, ${systems}` }).places?.('203.0.113.1'),
  ).toBeDefined();
  expect(() => readSettings({ ...env, UNDER_LAMP_MMDB: broken })).toThrow(SettingError);
  expect(readSettings(env).places).toBeNull();
});

it('stands behind the list of networks: rows of the list go before', async () => {
  const server = await testServer();
  try {
    const admin = await new Caller(server).signIn('admin');
    await admin.call('PUT', '/recipes', JSON.parse(readFileSync('demo/recipes/booking-app.json', 'utf8')));
    await admin.call('POST', '/sources', { name: 'bookings', title: 'Bookings', recipe: 'booking-app' });
    const catalogue = new SourceCatalogue(server.database.pool, openPlaces([places]));
    const countryOf = async (address: string): Promise<unknown> => {
      const source = await catalogue.find('bookings');
      const record = { id: '1', ts: 1_763_000_000_000, event: 'login', actor: 'x', ip: address, ok: true };
      const outcome = source?.recipe.apply(JSON.stringify(record), 0);
      return outcome?.became === 'event' ? outcome.draft.country : outcome;
    };
    expect(await countryOf('203.0.113.9')).toBe('Nearland');
    const rows = [{ network: '203.0.113.0/28', country: 'Our harbour' }];
    await admin.call('PUT', '/lists/networks', { match: 'network', key: 'network', rows });
    expect(await countryOf('203.0.113.9')).toBe('Our harbour');
    expect(await countryOf('203.0.113.99')).toBe('Nearland');
  } finally {
    await server.stop();
  }
});
