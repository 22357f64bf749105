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
  PRIMARY KEY ("into", name)
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
  leased_until timestamptz
);
CREATE UNIQUE INDEX rereads_one_at_work ON rereads (source) WHERE state IN ('waiting', 'running');
