import { Lists } from '../../lists/service.js';
import { DeliveryFailure } from '../delivery-failure.js';
import type { Send } from './sender.js';

/** Events tagged in one go. */
const MAX_TAGGED = 1000;

/** Tags the events that an alert rests on; one that has the tag keeps it once. */
export const tagEvents: Send<'tag'> = async ({ content, context, pool }) => {
  // What is searched beside the raw record is no longer known of an event that was changed.
  const { rowCount } = await pool.query(
    `WITH evidence AS (SELECT event_id, event_time FROM alert_events WHERE alert = $1 ORDER BY event_time DESC LIMIT $3)
     UPDATE events AS e SET tags = array_append(coalesce(e.tags, '{}'), $2), search_extra = NULL
       FROM evidence AS v
      WHERE e.id = v.event_id AND e."time" = v.event_time AND NOT coalesce($2 = ANY(e.tags), false)`,
    [context.alert, content.tag, MAX_TAGGED],
  );
  return `${rowCount ?? 0} events tagged ${content.tag}`;
};

/** Puts a value on a list; one that is there already stays as it is. */
export const addToList: Send<'list'> = async ({ content, to, pool }) => {
  if (content.value === '') throw new DeliveryFailure('The alert has no value for the list.', true);
  const { rows } = await pool.query<{ key: string; there: boolean }>(
    `SELECT l.key_column AS key, EXISTS (SELECT 1 FROM list_rows r WHERE r.list = l.name AND lower(r.key) = lower($2)) AS there
       FROM lists l WHERE l.name = $1`,
    [to, content.value],
  );
  const list = rows[0];
  if (list === undefined) throw new DeliveryFailure(`There is no list "${to}".`, true);
  if (list.there) return `${content.value} was on ${to} already`;
  await new Lists(pool).changeRows(to, { add: [{ [list.key]: content.value }], remove: [] });
  return `${content.value} put on ${to}`;
};
