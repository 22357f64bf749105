export const NEWEST_OF_EACH = 'SELECT DISTINCT ON (name) document FROM recipes ORDER BY name, version DESC';

export const VERSIONS_OF_RECIPE =
  'SELECT version, created, document FROM recipes WHERE name = $1 ORDER BY version DESC';

export const SOURCES_OF_RECIPE = 'SELECT name FROM sources WHERE recipe = $1 ORDER BY name';

export const PUT_VERSION =
  'INSERT INTO recipes (name, version, document) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING';

export const HOLD_RECIPE = `SELECT pg_advisory_xact_lock(hashtext('recipe ' || $1))`;

export const NEXT_VERSION = 'SELECT coalesce(max(version), 0) + 1 AS next FROM recipes WHERE name = $1';

export const ADD_VERSION = 'INSERT INTO recipes (name, version, document) VALUES ($1, $2, $3)';

export const SAMPLE_OF_ASIDE =
  'SELECT left(raw, 20000) AS raw FROM set_aside WHERE source = $1 ORDER BY id DESC LIMIT 5';

export const SAMPLE_OF_EVENTS = `SELECT raw FROM events WHERE source = $1 AND "time" > (SELECT last_event FROM sources WHERE name = $1) - interval '1 day'
    ORDER BY "time" DESC LIMIT 15`;

export const USERS_OF_RECIPE = `SELECT 'the source ' || name AS who FROM sources WHERE recipe = $1
  UNION ALL SELECT 'the rule of the way in "' || title || '"' FROM intake_rules WHERE document ->> 'recipe' = $1 ORDER BY 1`;

export const REMOVE_RECIPE = 'DELETE FROM recipes WHERE name = $1';

export const RENAME_RECIPE = `UPDATE recipes SET name = $2, document = jsonb_set(document::jsonb, '{name}', to_jsonb($2::text))::json
  WHERE name = $1`;

/** Wherever the name of a recipe stands without a reference to it. */
export const RENAME_RECIPE_IN = [
  'UPDATE sources SET recipe = $2 WHERE recipe = $1',
  `UPDATE intake_rules SET document = jsonb_set(document, '{recipe}', to_jsonb($2::text)) WHERE document ->> 'recipe' = $1`,
] as const;
