import { about, card, inColumns, OWN_CARDS, shared, tellings, type SubjectBoard } from './subject-board.js';

/** The dossier of an application. */
export const application: SubjectBoard = {
  kind: 'application',
  lanes: [
    { name: 'sign-in', kinds: ['signin'] },
    { name: 'rights', kinds: ['rights', 'account'], tells: tellings.rights },
    { name: 'acting', kinds: ['acting'], tells: tellings.acting },
    { name: 'data', kinds: ['query', 'object'], height: 'records' },
    { name: 'web', kinds: ['web', 'network'] },
    { name: 'software', kinds: ['software', 'process', 'system'] },
  ],
  firsts: [{ what: 'operation', pair: 'application and operation', column: 'operation' }],
  neighbours: [{ pair: 'application and operation', by: 'operation' }],
  board: {
    title: 'Dossier of an application',
    about: 'Who uses an application, what they read in it, and with what rights.',
    for: 'application',
    refresh: 60,
    cards: [
      ...OWN_CARDS,
      shared.people('application'),
      shared.rights('application'),
      shared.addresses('application'),
      shared.operations('application'),
      card(
        'acting',
        'Acting as another in it',
        `${about('application', 'acting')}where acting_as is not null\ntally count() as times, max(time) as last per user, acting_as\nsort last desc\nfirst 20\nshow last, user, acting_as, times`,
        { kind: 'sentences', template: '{user} acted as {acting_as}, {times}×' },
        { click: 'dossier' },
      ),
      card(
        'data',
        'Data read, against the usual',
        `${about('application', 'query, object')}where records is not null\nswing max(records) as largest per user, entity every 1d against 28d\nsort ratio desc\nfirst 8\nshow user, entity, largest, usual, round(ratio, 1) as times`,
        { kind: 'dots' },
        { window: { last: '30d' }, click: 'dossier' },
      ),
      card(
        'failed',
        'Failed, and why',
        `${about('application', 'all')}where outcome = 'failure'\ntally count() as times, max(time) as last per operation, reason, user\nsort times desc\nfirst 20`,
        { kind: 'rows' },
        { click: 'dossier' },
      ),
    ],
    layout: inColumns(
      [4, 4, 4],
      [
        [
          ['firsts', 5],
          ['people', 7],
          ['rights', 5],
        ],
        [
          ['data', 5],
          ['failed', 6],
          ['acting', 4],
          ['addresses', 5],
        ],
        [
          ['alerts-about', 7],
          ['neighbours', 5],
          ['operations', 6],
        ],
      ],
    ),
  },
};
