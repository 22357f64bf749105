import { about, card, inColumns, OWN_CARDS, shared, tellings, type SubjectBoard } from './subject-board.js';

/** The dossier of a user. */
export const user: SubjectBoard = {
  kind: 'user',
  lanes: [
    { name: 'sign-in', kinds: ['signin'] },
    { name: 'rights', kinds: ['rights', 'account'], tells: tellings.rights },
    { name: 'acting', kinds: ['acting'], tells: tellings.acting },
    { name: 'programs', kinds: ['process', 'software', 'log'], tells: tellings.programs },
    { name: 'data', kinds: ['query', 'object'], height: 'records' },
    { name: 'cloud', kinds: ['cloud'] },
    { name: 'network', kinds: ['network', 'dns', 'web'] },
  ],
  firsts: [
    { what: 'country', pair: 'user and country', column: 'country' },
    { what: 'address', pair: 'user and address', column: 'src_ip' },
    { what: 'application', pair: 'user and application', column: 'application' },
    { what: 'operation', pair: 'user and operation', column: 'operation' },
    { what: 'host', pair: 'user and host', column: 'host' },
    { what: 'account', pair: 'user and account', column: 'account' },
    { what: 'resource', pair: 'user and resource', column: 'resource' },
  ],
  neighbours: [
    { pair: 'user and address', by: 'address' },
    { pair: 'user and host', by: 'host' },
    { pair: 'user and resource', by: 'resource' },
  ],
  board: {
    title: 'Dossier of a user',
    about: 'What a user did, from where, with what rights, and what is new about it.',
    for: 'user',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      shared.rights('user'),
      card(
        'held',
        'Rights held now, as far as was seen',
        `${about('user', 'rights')}where target_user is not null and outcome != 'failure'\nset right = coalesce(group_name, operation)\nset on_what = coalesce(host, resource, application)\nonce per target_user, right, on_what by latest\nwhere operation not like '%remove%' and operation not like '%revoke%'\nsort time desc\nfirst 20\nshow time, target_user, right, on_what, user`,
        { kind: 'sentences', template: '{target_user} has *{right}* on {on_what}, by {user}' },
        { window: { last: '90d' } },
      ),
      card(
        'acting',
        'Acting as',
        `${about('user', 'acting')}where acting_as is not null\ntally count() as times, min(time) as began, max(time) as last, last(coalesce(application, host)) as place per user, acting_as\nsort last desc\nfirst 20\nshow last, user, acting_as, place, times`,
        { kind: 'sentences', template: '{user} acted as {acting_as} in {place}, {times}×' },
        { click: 'dossier' },
      ),
      card(
        'where',
        'Where from',
        `${about('user', 'all')}where lat is not null\ntally count() as events per country, city, lat, lon\nsort events desc\nfirst 60`,
        { kind: 'map' },
      ),
      shared.addresses('user'),
      card(
        'journeys',
        'Journeys nobody can make',
        `${about('user', 'signin')}where outcome = 'success'\ntravel per user faster than 900 farther than 500\nshow ended, user, from_city, to_city, round(km) as km, round(kmh) as kmh, began`,
        {
          kind: 'sentences',
          template: '{user} from {from_city} to {to_city}: {km} km, *{kmh}* km an hour',
        },
      ),
      card(
        'data',
        'Data read',
        `${about('user', 'query, object')}where records is not null\nswing max(records) as largest per application, entity every 1d against 28d\nsort ratio desc\nfirst 8\nshow application, entity, largest, usual, round(ratio, 1) as times`,
        { kind: 'dots' },
        { window: { last: '30d' } },
      ),
      shared.programs('user'),
      shared.made('user'),
      shared.flows('user'),
      shared.changes('user'),
      shared.operations('user'),
      shared.findings('user'),
    ],
    layout: inColumns(
      [4, 4, 4],
      [
        [
          ['firsts', 7],
          ['rights', 5],
          ['held', 4],
          ['acting', 4],
          ['made', 6],
          ['changes', 5],
        ],
        [
          ['where', 6],
          ['addresses', 5],
          ['journeys', 3],
          ['data', 4],
          ['programs', 5],
          ['network', 5],
        ],
        [
          ['alerts-about', 7],
          ['neighbours', 7],
          ['operations', 8],
          ['findings', 5],
        ],
      ],
    ),
  },
};
