import {
  about,
  card,
  inColumns,
  OWN_CARDS,
  shared,
  state,
  tellings,
  type SubjectBoard,
} from './subject-board.js';

/** The dossier of a resource. */
export const resource: SubjectBoard = {
  kind: 'resource',
  lanes: [
    { name: 'changes', kinds: ['cloud', 'system'] },
    { name: 'rights', kinds: ['rights', 'account'], tells: tellings.rights },
    { name: 'reads', kinds: ['object', 'query'], height: 'records' },
    { name: 'network', kinds: ['network', 'web'] },
    { name: 'findings', kinds: ['finding'], tells: tellings.findings },
  ],
  firsts: [{ what: 'operation', pair: 'resource and operation', column: 'operation' }],
  neighbours: [{ pair: 'resource and operation', by: 'operation' }],
  board: {
    title: 'Dossier of a resource',
    about: 'Who created and changed a resource, who reads it, and what it looks like now.',
    for: 'resource',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      state('state', 'Newest known state', 'state'),
      state('makers', 'Who created it', 'makers'),
      shared.people('resource'),
      shared.changes('resource'),
      shared.rights('resource'),
      shared.addresses('resource'),
      shared.operations('resource'),
      shared.findings('resource'),
      card(
        'newest',
        'Newest events',
        `${about('resource', 'all')}sort time desc\nfirst 40\nshow time, user, operation, outcome, reason, src_ip`,
        { kind: 'rows' },
      ),
    ],
    layout: inColumns(
      [4, 4, 4],
      [
        [
          ['firsts', 5],
          ['makers', 4],
          ['people', 6],
          ['rights', 4],
        ],
        [
          ['newest', 6],
          ['changes', 6],
          ['addresses', 5],
        ],
        [
          ['alerts-about', 6],
          ['state', 5],
          ['neighbours', 5],
          ['operations', 5],
          ['findings', 4],
        ],
      ],
    ),
  },
};
