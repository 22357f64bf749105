import { about, card, inColumns, OWN_CARDS, shared, tellings, type SubjectBoard } from './subject-board.js';

/** The dossier of an address. */
export const address: SubjectBoard = {
  kind: 'address',
  lanes: [
    { name: 'sign-in', kinds: ['signin'] },
    { name: 'acting', kinds: ['acting', 'rights', 'account'], tells: tellings.acting },
    { name: 'data', kinds: ['query', 'object'], height: 'records' },
    { name: 'cloud', kinds: ['cloud'] },
    { name: 'web', kinds: ['web'] },
    { name: 'network', kinds: ['network', 'dns'] },
    { name: 'findings', kinds: ['finding'], tells: tellings.findings },
  ],
  firsts: [
    { what: 'operation', pair: 'address and operation', column: 'operation' },
    { what: 'destination', pair: 'host and destination', column: 'dst_ip' },
    { what: 'port', pair: 'address and port', column: 'dst_port' },
  ],
  neighbours: [
    { pair: 'host and destination', by: 'destination' },
    { pair: 'address and port', by: 'port' },
  ],
  board: {
    title: 'Dossier of an address',
    about: 'Who came from an address, whether they got in, and what it talked to.',
    for: 'address',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      card(
        'users',
        'Who came from it, and got in',
        `${about('address', 'all')}where user is not null\ntally count(where outcome = 'success') as "got in", count(where outcome = 'failure') as "did not", max(time) as last per user\nsort "got in" desc\nfirst 20`,
        { kind: 'rows' },
        { click: 'dossier' },
      ),
      card(
        'hosts',
        'Hosts it was seen on or with',
        `${about('address', 'all')}set on_host = coalesce(host, dst_host, src_host)\nwhere on_host is not null\ntally count() as events, max(time) as last per on_host\nsort events desc\nfirst 20`,
        { kind: 'rows' },
      ),
      shared.flows('address'),
      shared.operations('address'),
      shared.findings('address'),
      shared.rights('address'),
      card(
        'web',
        'Web requests, blocked and let through',
        `${about('address', 'web')}tally count() as requests per outcome, finding\nsort requests desc\nfirst 20`,
        { kind: 'rows' },
      ),
    ],
    layout: inColumns(
      [4, 4, 4],
      [
        [
          ['firsts', 6],
          ['users', 6],
          ['rights', 5],
        ],
        [
          ['network', 6],
          ['hosts', 5],
          ['web', 5],
        ],
        [
          ['alerts-about', 7],
          ['neighbours', 6],
          ['operations', 6],
          ['findings', 5],
        ],
      ],
    ),
  },
};
