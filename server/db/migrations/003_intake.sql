-- Where records come from and how they are read.
CREATE TABLE recipes (
  name text NOT NULL,
  version int NOT NULL,
  -- As it was written: people read it, in its order.
  document json NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (name, version)
);

CREATE TABLE sources (
  name text PRIMARY KEY,
  title text NOT NULL,
  description text NOT NULL DEFAULT '',
  recipe text NOT NULL,
  -- SHA-256 of the key senders show; the key itself is shown once and not kept.
  key_hash bytea NOT NULL,
  key_ending text NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  -- Kept in the transaction that stores the events.
  stored bigint NOT NULL DEFAULT 0,
  known bigint NOT NULL DEFAULT 0,
  set_aside bigint NOT NULL DEFAULT 0,
  last_event timestamptz,
  last_received timestamptz
);

CREATE TABLE batches (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  received timestamptz NOT NULL DEFAULT now(),
  stored int NOT NULL,
  known int NOT NULL,
  set_aside int NOT NULL
);

-- Records that could not be read: kept as they came, with the reason.
CREATE TABLE set_aside (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  batch bigint NOT NULL,
  received timestamptz NOT NULL DEFAULT now(),
  code text NOT NULL,
  reason text NOT NULL,
  raw text NOT NULL,
  -- The same unreadable record sent again is one record.
  raw_hash bytea NOT NULL,
  recipe_version int NOT NULL,
  UNIQUE (source, raw_hash)
);

-- Keyed reference data.
CREATE TABLE lists (
  name text PRIMARY KEY,
  match text NOT NULL CHECK (match IN ('exact', 'network', 'wildcard')),
  key_column text NOT NULL,
  updated timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE list_rows (
  list text NOT NULL REFERENCES lists (name) ON DELETE CASCADE,
  position int NOT NULL,
  key text NOT NULL,
  -- The key as conditions find it: folded text, a network, or a LIKE pattern.
  folded text COLLATE "C" NOT NULL,
  network inet,
  pattern text,
  cells jsonb NOT NULL,
  PRIMARY KEY (list, position)
);
CREATE INDEX list_rows_folded ON list_rows (list, folded);
CREATE INDEX list_rows_network ON list_rows USING gist (network inet_ops);

CREATE VIEW wick.list_keys AS SELECT list, folded, network, pattern FROM list_rows;

-- Counted up by every change of rules or sources, so that each batch works with what stands at its time.
CREATE TABLE config_versions (
  name text PRIMARY KEY,
  version bigint NOT NULL DEFAULT 0
);
INSERT INTO config_versions (name) VALUES ('rules'), ('sources');
