import { createWriteStream, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { DuckDBInstance } from '@duckdb/node-api';
import type { Pool, PoolClient } from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import { formatInstant, type Instant } from '../../core/base/instant.js';

/** A columnar database that holds the same events, as a reference for how quick reading can be. */
export interface Columnar {
  /** Runs a statement to its last row; `$1` and `$2` are the window. */
  run(sql: string, from: Instant, to: Instant): Promise<void>;
  close(): void;
}

/** The columns that the questions of the bench read, with their types there. */
const columns = {
  id: 'VARCHAR',
  time: 'TIMESTAMPTZ',
  source: 'VARCHAR',
  kind: 'VARCHAR',
  operation: 'VARCHAR',
  outcome: 'VARCHAR',
  user: 'VARCHAR',
  src_ip: 'VARCHAR',
  host: 'VARCHAR',
  bytes_in: 'BIGINT',
  bytes_out: 'BIGINT',
  records: 'BIGINT',
  raw: 'VARCHAR',
} as const;

const MEMORY = '6GB';

async function copyOut(client: PoolClient, file: string): Promise<void> {
  const names = Object.keys(columns)
    .map((name) => (name === 'src_ip' ? 'host(src_ip) AS src_ip' : `"${name}"`))
    .join(', ');
  await pipeline(
    client.query(copyTo(`COPY (SELECT ${names} FROM events ORDER BY "time") TO STDOUT (FORMAT csv)`)),
    createWriteStream(file),
  );
}

/** Copies all events over, once: what was copied before is used again while it holds as many. */
export async function fillColumnar(pool: Pool, folder: string): Promise<Columnar> {
  const file = join(folder, 'columnar.db');
  const csv = join(folder, 'columnar.csv');
  const instance = await DuckDBInstance.create(file, { memory_limit: MEMORY });
  const connection = await instance.connect();
  await connection.run("SET TimeZone = 'UTC'");
  const { rows } = await pool.query<{ events: number }>(
    'SELECT sum(events)::float8 AS events FROM event_hours',
  );
  const held = await connection
    .runAndReadAll('SELECT count(*)::DOUBLE AS n FROM events')
    .then((result) => Number(result.getRowObjects()[0]?.['n'] ?? 0))
    .catch(() => -1);
  if (held !== rows[0]?.events) {
    process.stdout.write('Copying the events to the columnar reference…\n');
    const client = await pool.connect();
    await copyOut(client, csv).finally(() => client.release());
    const types = Object.entries(columns)
      .map(([name, type]) => `'${name}': '${type}'`)
      .join(', ');
    await connection.run('DROP TABLE IF EXISTS events');
    await connection.run(
      `CREATE TABLE events AS SELECT * FROM read_csv('${csv}', header = false, columns = {${types}}, max_line_size = 20000000)`,
    );
    rmSync(csv);
  }
  process.stdout.write(`Columnar reference: ${Math.round(statSync(file).size / 1e6)} MB\n`);
  return {
    async run(sql, from, to) {
      const prepared = await connection.prepare(sql);
      prepared.bindVarchar(1, formatInstant(from));
      prepared.bindVarchar(2, formatInstant(to));
      await prepared.runAndReadAll();
    },
    close: () => connection.closeSync(),
  };
}
