import type { Json } from '../../core/base/json.js';
import { columnDef, type ColumnGroup, type ColumnName, columnNames } from '../../core/events/columns.js';

/** The questions an event answers, and the columns that answer them. */
export const eventGroups: readonly {
  title: string;
  of: readonly ColumnGroup[];
  also?: readonly ColumnName[];
  not?: readonly ColumnName[];
}[] = [
  { title: 'Who', of: ['who'] },
  { title: 'Did what', of: ['what', 'program'], not: ['outcome', 'reason', 'status_code', 'source'] },
  { title: 'To what', of: ['to', 'cloud'], not: ['changes'] },
  { title: 'From where', of: ['from'] },
  { title: 'How it ended', of: ['much'], also: ['outcome', 'reason', 'status_code'] },
  { title: 'Where it is from', of: [], also: ['source', 'received'] },
];

/** A field that an event has. */
export interface EventField {
  readonly name: ColumnName;
  readonly value: Json;
}

/** The fields of an event that answer one question; those that it does not have are left out. */
export function fieldsOf(
  event: Readonly<Record<string, unknown>>,
  group: (typeof eventGroups)[number],
): EventField[] {
  const names = columnNames.filter(
    (name) =>
      group.also?.includes(name) || (group.of.includes(columnDef(name).group) && !group.not?.includes(name)),
  );
  return names.flatMap((name) => {
    const value = event[name] as Json | undefined;
    return value === undefined || value === null ? [] : [{ name, value }];
  });
}
