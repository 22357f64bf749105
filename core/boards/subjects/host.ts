import { inColumns, OWN_CARDS, shared, state, tellings, type SubjectBoard } from './subject-board.js';

/** The dossier of a host. */
export const host: SubjectBoard = {
  kind: 'host',
  lanes: [
    { name: 'sign-in', kinds: ['signin', 'acting'] },
    { name: 'programs', kinds: ['process'], tells: tellings.programs },
    { name: 'software', kinds: ['software', 'system'] },
    { name: 'rights', kinds: ['rights', 'account'], tells: tellings.rights },
    { name: 'network', kinds: ['network', 'dns', 'web'] },
    { name: 'findings', kinds: ['finding'], tells: tellings.findings },
    { name: 'logs', kinds: ['log'] },
  ],
  firsts: [
    { what: 'operation', pair: 'host and operation', column: 'operation' },
    { what: 'address', pair: 'host and address', column: 'src_ip' },
  ],
  neighbours: [
    { pair: 'host and address', by: 'address' },
    { pair: 'host and operation', by: 'operation' },
  ],
  board: {
    title: 'Dossier of a host',
    about: 'Who used a host, what ran there, what changed, and whom it talked to.',
    for: 'host',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      state('state', 'Newest known state', 'state'),
      shared.people('host'),
      shared.programs('host'),
      shared.flows('host'),
      shared.changes('host'),
      shared.made('host'),
      shared.rights('host'),
      shared.operations('host'),
      shared.findings('host'),
    ],
    layout: inColumns(
      [4, 4, 4],
      [
        [
          ['firsts', 6],
          ['people', 6],
          ['rights', 5],
          ['made', 6],
        ],
        [
          ['network', 6],
          ['programs', 6],
          ['changes', 5],
          ['operations', 6],
        ],
        [
          ['alerts-about', 7],
          ['neighbours', 6],
          ['findings', 5],
          ['state', 5],
        ],
      ],
    ),
  },
};
