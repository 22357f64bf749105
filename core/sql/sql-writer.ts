/** A statement ready for the driver: text with `$1`… and the values for them. */
export interface SqlQuery {
  readonly text: string;
  readonly values: readonly unknown[];
}

/** Characters of a statement: planning longer ones takes memory and time that nobody can stop. */
const MAX_STATEMENT = 1_000_000;

/** Refuses a part of a statement that grew out of bounds. @param tooLarge what is thrown then */
export function requireSize(sql: string, tooLarge: () => Error): string {
  if (sql.length > MAX_STATEMENT) throw tooLarge();
  return sql;
}

/** Gathers the values of one statement and numbers their places; nothing of a hunt's text enters SQL any other way. */
export class SqlWriter {
  private readonly held: unknown[] = [];
  private names = 0;

  /** @param tooLarge what is thrown for a statement that grew out of bounds */
  constructor(private readonly tooLarge: () => Error) {}

  /** The place of a value, cast to a PostgreSQL type. */
  param(value: unknown, type: string): string {
    this.held.push(value);
    return `$${this.held.length}::${type}`;
  }

  /** A name that stands nowhere else in the statement. */
  name(): string {
    return `t${++this.names}`;
  }

  finish(text: string): SqlQuery {
    return { text: requireSize(text, this.tooLarge), values: this.held };
  }
}

/** A slot as a column name in SQL. Slots are made by the checker, never by a user. */
export const column = (slot: string): string => `"${slot}"`;
