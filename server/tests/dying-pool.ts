import type { Pool } from 'pg';

/** A pool whose statements fail after so many, as if the server had died there. */
export function dyingPool(pool: Pool, after: number): { readonly pool: Pool; readonly left: () => number } {
  let left = after;
  const guard = (): void => {
    if (left-- <= 0) throw new Error('The server died.');
  };
  const dead = new Proxy(pool, {
    get(target, name) {
      if (name === 'query')
        return async (...all: [string]) => {
          guard();
          return target.query(...all);
        };
      if (name === 'connect')
        return async () => {
          guard();
          const client = await target.connect();
          const query = client.query.bind(client) as (...all: unknown[]) => Promise<unknown>;
          return new Proxy(client, {
            get(on, which) {
              if (which === 'query')
                return async (...all: unknown[]) => {
                  // What ends the transaction of a dead server is its database.
                  if (all[0] !== 'ROLLBACK') guard();
                  return query(...all);
                };
              const value: unknown = Reflect.get(on, which);
              return typeof value === 'function' ? (value as () => unknown).bind(on) : value;
            },
          });
        };
      const value: unknown = Reflect.get(target, name);
      return typeof value === 'function' ? (value as () => unknown).bind(target) : value;
    },
  });
  return { pool: dead, left: () => left };
}
