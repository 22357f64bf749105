import type { Recipe } from '../recipe-schema.js';
import { osEvents } from './os-events.js';

/** Event records of the operating system as flat JSON, as shippers of logs write them. */
export const osEventsJson: Recipe = {
  ...osEvents,
  name: 'os-events-json',
  title: 'Event records of the operating system as flat JSON, as shippers of logs write them',
  format: 'json',
  time: {
    from: ['SystemTime', 'TimeCreated', 'UtcTime', 'EventTime', '@timestamp', 'timestamp'],
    as: ['iso', 'yyyy-MM-dd HH:mm:ss.S', 'yyyy-MM-dd HH:mm:ss', 'epoch-milliseconds'],
  },
  map: { event_code: 'EventID', host: { from: ['Computer', 'Hostname'], until: '.' } },
};
