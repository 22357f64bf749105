import { QueueDatabase } from './queue-database.js';

const failing = (...errors: readonly object[]): { asked: () => number; query: any } => {
  let asked = 0;
  return {
    asked: () => asked,
    query: () => {
      const error = errors[asked++];
      return error === undefined
        ? Promise.resolve({ rows: [{ one: 1 }] })
        : Promise.reject(Object.assign(new Error('message' in error ? String(error.message) : ''), error));
    },
  };
};

it('asks again while the database is away', async () => {
  const pool = failing(
    { code: '57P01' },
    { code: 'ECONNREFUSED' },
    { message: 'Connection terminated unexpectedly' },
  );
  expect(await new QueueDatabase(pool, 0).executeSql('SELECT 1', [])).toEqual({ rows: [{ one: 1 }] });
  expect(pool.asked()).toBe(4);
});

it('other failures are told', async () => {
  const pool = failing({ code: '23505' });
  await expect(new QueueDatabase(pool, 0).executeSql('SELECT 1', [])).rejects.toMatchObject({
    code: '23505',
  });
  expect(pool.asked()).toBe(1);
});

it('at the end nobody waits for a database that is away', async () => {
  const pool = failing({ code: '57P03' });
  const database = new QueueDatabase(pool, 0);
  database.end();
  expect(await database.executeSql('SELECT 1', [])).toEqual({ rows: [] });
});
