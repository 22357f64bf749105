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

/** The dossier of a cloud account. */
export const account: SubjectBoard = {
  kind: 'account',
  lanes: [
    { name: 'sign-in', kinds: ['signin', 'acting'] },
    { name: 'rights', kinds: ['rights', 'account'], tells: tellings.rights },
    { name: 'changes', kinds: ['cloud'] },
    { name: 'storage', kinds: ['object', 'query'], height: 'records' },
    { name: 'network', kinds: ['network'] },
    { name: 'findings', kinds: ['finding', 'log', 'system'] },
  ],
  firsts: [{ what: 'operation', pair: 'account and operation', column: 'operation' }],
  neighbours: [{ pair: 'account and operation', by: 'operation' }],
  board: {
    title: 'Dossier of a cloud account',
    about: 'Who changes a cloud account, what was refused, and what it looks like now.',
    for: 'account',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      state('state', 'Newest known state', 'state'),
      shared.people('account'),
      shared.rights('account'),
      shared.changes('account'),
      shared.made('account'),
      shared.operations('account'),
      shared.findings('account'),
      card(
        'refused',
        'Refused, and why',
        `${about('account', 'cloud, object, rights, account')}where outcome = 'failure'\ntally count() as times, last(user) as by, max(time) as last per operation, reason, resource\nsort last desc\nfirst 20`,
        { kind: 'rows' },
      ),
      card(
        'resources',
        'Resources, most changed',
        `${about('account', 'cloud')}where resource is not null\ntally count() as changes, last(user) as by, max(time) as last per resource, resource_type\nsort changes desc\nfirst 20`,
        { kind: 'rows' },
      ),
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
          ['refused', 6],
          ['resources', 6],
          ['changes', 6],
        ],
        [
          ['alerts-about', 7],
          ['neighbours', 5],
          ['operations', 6],
          ['findings', 5],
          ['state', 5],
        ],
      ],
    ),
  },
};
