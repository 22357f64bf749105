import { Lists } from '../../lists/service.js';
import { DeliveryFailure } from '../delivery-failure.js';
import { FIND_LIST_VALUE, TAG_EVIDENCE } from '../sql.js';
import type { Send } from './sender.js';

/** Events tagged in one go. */
const MAX_TAGGED = 1000;

/** Tags the events that an alert rests on; one that has the tag keeps it once. */
export const tagEvents: Send<'tag'> = async ({ content, context, pool }) => {
  // What is searched beside the raw record is no longer known of an event that was changed.
  const { rowCount } = await pool.query(TAG_EVIDENCE, [context.alert, content.tag, MAX_TAGGED]);
  return `${rowCount ?? 0} events tagged ${content.tag}`;
};

/** Puts a value on a list; one that is there already stays as it is. */
export const addToList: Send<'list'> = async ({ content, to, pool }) => {
  if (content.value === '') throw new DeliveryFailure('The alert has no value for the list.', true);
  const { rows } = await pool.query<{ key: string; there: boolean }>(FIND_LIST_VALUE, [to, content.value]);
  const list = rows[0];
  if (list === undefined) throw new DeliveryFailure(`There is no list "${to}".`, true);
  if (list.there) return `${content.value} was on ${to} already`;
  await new Lists(pool).changeRows(to, { add: [{ [list.key]: content.value }], remove: [] });
  return `${content.value} put on ${to}`;
};
