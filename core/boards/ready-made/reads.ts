import type { Board } from '../board.js';

/** Reads of business data by application, with the query as it was asked. */
export const reads: Board = {
  title: 'Large reads',
  about: 'Who reads more than usual, of which application and data, with the exact query.',
  refresh: 60,
  cards: [
    {
      id: 'against',
      title: 'Against the usual',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\nswing max(records) as largest per user, application, entity every 1d against 28d\nwhere largest > 2 * usual\nsort ratio desc\nfirst 10\nshow user, application, entity, largest, usual, round(ratio, 1) as times",
      picture: { kind: 'dots' },
      window: { last: '30d' },
    },
    {
      id: 'largest',
      title: 'Largest single reads',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\nsort records desc\nfirst 30\nshow time, user, acting_as, application, entity, records, query_text, src_ip",
      picture: { kind: 'rows' },
    },
    {
      id: 'applications',
      title: 'Records by application and data',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records, count() as reads per application, entity\nsort records desc\nfirst 15",
      picture: { kind: 'ranked' },
    },
    {
      id: 'readers',
      title: 'Who reads most',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records per user\nsort records desc\nfirst 10",
      picture: { kind: 'ranked' },
    },
    {
      id: 'trend',
      title: 'Records read by day',
      hunt: "ask application 'Application' choices from application any\nfrom query, object\nwhere records is not null and application = $application\ntally sum(records) as records per application, every 1d",
      picture: { kind: 'line', usual: 4 },
      window: { last: '30d' },
    },
  ],
  layout: [
    { card: 'against', x: 0, y: 0, w: 5, h: 9 },
    { card: 'trend', x: 5, y: 0, w: 7, h: 5 },
    { card: 'applications', x: 5, y: 5, w: 4, h: 8 },
    { card: 'readers', x: 9, y: 5, w: 3, h: 8 },
    { card: 'largest', x: 0, y: 13, w: 12, h: 7 },
  ],
};
