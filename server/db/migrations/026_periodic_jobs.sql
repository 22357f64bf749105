-- Work by the clock: a line for each piece of work, whichever server did it last.
CREATE TABLE periodic_jobs (
  name text PRIMARY KEY,
  title text NOT NULL,
  -- From the end of one round to the beginning of the next.
  pause_ms integer NOT NULL CHECK (pause_ms > 0),
  -- Since when a round goes on; null between rounds, and for those that are over within a second.
  running_since timestamptz,
  last_ended timestamptz,
  next_due timestamptz,
  -- Of the newest round, where it failed.
  failure text,
  failed timestamptz
);
