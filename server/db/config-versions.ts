import type { Pool, PoolClient } from 'pg';

export type ConfigName = 'rules' | 'sources';

/** Tells every server that rules or sources have changed; part of the change's own transaction. */
export async function bumpConfig(client: PoolClient, name: ConfigName): Promise<void> {
  await client.query('UPDATE config_versions SET version = version + 1 WHERE name = $1', [name]);
}

/** How often each has changed. */
export async function configVersions(client: PoolClient | Pool): Promise<Record<ConfigName, number>> {
  const { rows } = await client.query<{ name: ConfigName; version: number }>(
    'SELECT name, version FROM config_versions',
  );
  return Object.fromEntries(rows.map(({ name, version }) => [name, version])) as Record<ConfigName, number>;
}
