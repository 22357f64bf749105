-- Who changed what, and when: rules, log sources, lists, destinations, keys and people.
CREATE TABLE changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  kind text NOT NULL CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person')),
  name text NOT NULL,
  what text NOT NULL
);
CREATE INDEX changes_of ON changes (kind, name, id DESC);

-- Work by the clock: a line for each piece of work, whichever server did it last.
CREATE TABLE periodic_jobs (
  name text PRIMARY KEY,
  title text NOT NULL,
  -- From the end of one round to the beginning of the next.
  pause_ms int NOT NULL,
  -- Since when a round goes on; null between rounds, and for those that are over within a second.
  running_since timestamptz,
  last_ended timestamptz,
  next_due timestamptz,
  -- Of the newest round, where it failed.
  failure text,
  failed timestamptz,
  CHECK (pause_ms > 0)
);
