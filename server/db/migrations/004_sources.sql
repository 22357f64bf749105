-- Counted up by every change of rules or sources, so that each batch works with what stands at its time.
CREATE TABLE config_versions (
  name text PRIMARY KEY,
  version bigint NOT NULL DEFAULT 0
);

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
  last_received timestamptz,
  -- How long a source's events are kept, and since which day they still are; null keeps all of them.
  retention_days int CHECK (retention_days BETWEEN 1 AND 3650),
  held_from date,
  -- Whose syslog messages belong to the source; null when it takes none.
  syslog jsonb
);

CREATE TABLE batches (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  received timestamptz NOT NULL DEFAULT now(),
  stored int NOT NULL,
  known int NOT NULL,
  set_aside int NOT NULL,
  -- A batch is counted in the sightings once it is rolled; until then its events are looked at directly. The stretch of
  -- time its events lie in finds them without an index on the batch.
  first_event timestamptz,
  last_event timestamptz,
  rolled boolean NOT NULL DEFAULT false
);
CREATE INDEX batches_unrolled ON batches (id) WHERE NOT rolled;

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
  -- Identical records of one delivery are events of their own, also while they are set aside: the mark tells them apart.
  mark bytea NOT NULL DEFAULT '\x',
  UNIQUE (source, raw_hash, mark)
);
CREATE INDEX set_aside_group ON set_aside (source, code, split_part(reason, ':', 1));

-- Records set aside that somebody threw away, and why; the records themselves are gone.
CREATE TABLE discarded_aside (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  "group" text NOT NULL,
  records int NOT NULL,
  because text NOT NULL,
  by text NOT NULL,
  at timestamptz NOT NULL DEFAULT now()
);

-- Stored records read again by a newer version of their recipe: how far each such work has come.
CREATE TABLE rereads (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source text NOT NULL REFERENCES sources (name),
  recipe text NOT NULL,
  version int NOT NULL,
  discard boolean NOT NULL,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'stopped', 'failed')),
  by text NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  ended timestamptz,
  -- The place reached, a day and the last id within it, and the last day there was at the start.
  day date,
  after_id uuid,
  last_day date,
  -- Null until counted.
  total bigint,
  done bigint NOT NULL DEFAULT 0,
  changed bigint NOT NULL DEFAULT 0,
  unreadable bigint NOT NULL DEFAULT 0,
  discarded bigint NOT NULL DEFAULT 0,
  -- Why records could not be read, an example a code.
  reasons jsonb NOT NULL DEFAULT '{}',
  error text,
  leased_until timestamptz,
  FOREIGN KEY (recipe, version) REFERENCES recipes (name, version)
);
CREATE UNIQUE INDEX rereads_one_at_work ON rereads (source) WHERE state IN ('waiting', 'running');

-- What is fetched from outside, by the clock: records for a source, or the rows of a list.
CREATE TABLE pulls (
  "into" text NOT NULL CHECK ("into" IN ('source', 'list')),
  name text NOT NULL,
  address text NOT NULL,
  every_seconds int NOT NULL CHECK (every_seconds BETWEEN 5 AND 604800),
  -- Where in an answer its items and its next cursor stand, and the name the cursor is asked by.
  items text NOT NULL,
  next text NOT NULL,
  cursor_parameter text NOT NULL,
  -- Sealed; null where the address asks for none.
  token bytea,
  enabled boolean NOT NULL DEFAULT true,
  -- The place up to which everything is stored; moved only after what came before it is committed.
  cursor text,
  -- The mark of the last whole answer, so that an unchanged directory is not read again.
  etag text,
  fetched bigint NOT NULL DEFAULT 0,
  last_run timestamptz,
  last_fetched int,
  error text,
  failures int NOT NULL DEFAULT 0,
  next_run timestamptz NOT NULL DEFAULT now(),
  -- Taken by a server until then; one that dies leaves it to the others.
  leased_until timestamptz,
  -- Addresses that are pulled may lie inside only where somebody allowed it, as destinations.
  allow_private boolean NOT NULL DEFAULT false,
  PRIMARY KEY ("into", name)
);

INSERT INTO config_versions (name) VALUES ('rules'), ('sources');
