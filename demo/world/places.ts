/** A harbour or an outside place, with the network its people come from. */
export interface Place {
  readonly city: string;
  readonly country: string;
  readonly lat: number;
  readonly lon: number;
  readonly zone: string;
  readonly asn: number;
  readonly asName: string;
  /** The first three bytes of its IPv4 network. */
  readonly network: string;
}

const harbour = (
  city: string,
  country: string,
  lat: number,
  lon: number,
  zone: string,
  network: string,
): Place => ({
  city,
  country,
  lat,
  lon,
  zone,
  network,
  asn: 64_500,
  asName: 'Skerry Line',
});

/** The six harbours of the ferry line; towns and coordinates are invented. */
export const harbours = {
  stavik: harbour('Stavik', 'Norway', 58.61, 5.42, 'Europe/Oslo', '10.20.4'),
  brannoch: harbour('Brannoch', 'United Kingdom', 57.42, -3.91, 'Europe/London', '10.20.5'),
  lisse: harbour('Lisse Point', 'Netherlands', 53.38, 6.02, 'Europe/Amsterdam', '10.20.6'),
  holmsund: harbour('Holmsund Sound', 'Sweden', 63.58, 20.31, 'Europe/Stockholm', '10.20.7'),
  kettle: harbour('Kettle Haven', 'United Kingdom', 60.21, -1.37, 'Europe/London', '10.20.8'),
  orrin: harbour('Orrin Quay', 'Denmark', 55.83, 8.12, 'Europe/Copenhagen', '10.20.9'),
} as const satisfies Record<string, Place>;

/** Networks that people sign in from at home: one in each of three countries. */
export const outside = {
  norway: {
    city: 'Stavik',
    country: 'Norway',
    lat: 58.62,
    lon: 5.44,
    zone: 'Europe/Oslo',
    asn: 64_611,
    asName: 'Fjordline Net',
    network: '198.51.100',
  },
  britain: {
    city: 'Brannoch',
    country: 'United Kingdom',
    lat: 57.43,
    lon: -3.9,
    zone: 'Europe/London',
    asn: 64_612,
    asName: 'Highmoor Broadband',
    network: '203.0.113',
  },
  netherlands: {
    city: 'Lisse Point',
    country: 'Netherlands',
    lat: 53.39,
    lon: 6.04,
    zone: 'Europe/Amsterdam',
    asn: 64_613,
    asName: 'Polder Access',
    network: '192.0.2',
  },
} as const satisfies Record<string, Place>;

/** The home network of people of a harbour. */
export function homeNetwork(harbourPlace: Place): Place {
  if (harbourPlace.country === 'United Kingdom') return outside.britain;
  return harbourPlace.country === 'Netherlands' || harbourPlace.country === 'Denmark'
    ? outside.netherlands
    : outside.norway;
}

/** Ships reach land by satellite: the place is wherever the ground station is. */
export const groundStations: readonly Place[] = [
  {
    city: 'Vestervig',
    country: 'Denmark',
    lat: 56.77,
    lon: 8.32,
    zone: 'UTC',
    asn: 64_620,
    asName: 'Polestar Maritime Satellite',
    network: '198.18.7',
  },
  {
    city: 'Ardnish',
    country: 'United Kingdom',
    lat: 56.87,
    lon: -5.77,
    zone: 'UTC',
    asn: 64_620,
    asName: 'Polestar Maritime Satellite',
    network: '198.18.8',
  },
  {
    city: 'Porto Brisa',
    country: 'Portugal',
    lat: 38.71,
    lon: -9.42,
    zone: 'UTC',
    asn: 64_620,
    asName: 'Polestar Maritime Satellite',
    network: '198.18.9',
  },
];

/** Where the spray comes from: rented machines about 4,000 km from Stavik. */
export const pellHarbour: Place = {
  city: 'Pell Harbour',
  country: 'Canada',
  lat: 47.61,
  lon: -52.83,
  zone: 'America/St_Johns',
  asn: 64_666,
  asName: 'Cold Bay Hosting',
  network: '198.18.40',
};
