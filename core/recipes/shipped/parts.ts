import type { Recipe } from '../recipe-schema.js';

// What shipped recipes are put together of.

type Message = NonNullable<Recipe['messages']>[number];
type Case = NonNullable<Recipe['cases']>[number];
type Lookup = NonNullable<Recipe['lookups']>[number];
type Values = NonNullable<Case['set']>;

/** What happened, as `kind operation outcome`; a part that is not known is written `-`. */
export function happened(what: string, more: Values = {}): Values {
  const [kind, operation, outcome] = what.split(' ');
  return Object.fromEntries(
    Object.entries({ kind, operation, outcome, ...more }).filter(
      ([, value]) => value !== undefined && value !== '-',
    ),
  ) as Values;
}

/** Patterns over one field, under one condition. */
export const saysIn =
  (field: string, when?: Message['when']) =>
  (read: string, bind: Message['bind'], what: string, more?: Values): Message => ({
    in: field,
    ...(when !== undefined && { when }),
    read,
    ...(bind !== undefined && { bind }),
    set: happened(what, more),
  });

/** A record with one of these codes. */
export const coded =
  (field: string) =>
  (code: string | readonly string[], what: string, map?: Case['map'], more?: Values): Case => ({
    when: { [field]: code },
    set: happened(what, more),
    ...(map !== undefined && { map }),
  });

/** A case that needs a field besides: other programs use the same codes for something else. */
export const withField = (field: string, one: Case): Case => ({
  ...one,
  when: { ...one.when, [field]: '*' },
});

/** Where the address that something came from stands, by the list of networks. */
export const networkOfSource: Lookup = {
  list: 'networks',
  by: 'src_ip',
  set: { country: 'country', city: 'city', lat: 'lat', lon: 'lon', asn: 'asn', as_name: 'as_name' },
};

/** How a web server answered, by the first digit of its status. */
export const answeredByStatus: readonly Case[] = [
  { when: { status: ['2*', '3*'] }, set: { outcome: 'success' } },
  { when: { status: ['4*', '5*'] }, set: { outcome: 'failure' } },
];
