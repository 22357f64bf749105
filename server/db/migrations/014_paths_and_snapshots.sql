-- The branching history of hunts: every question asked and what came of it, each after the one it was changed from.
CREATE TABLE hunt_points (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  -- The first point of the path.
  path bigint NOT NULL,
  parent bigint REFERENCES hunt_points (id) ON DELETE CASCADE,
  owner text NOT NULL,
  made timestamptz NOT NULL DEFAULT now(),
  name text NOT NULL DEFAULT '',
  -- What was asked: text, window, blanks and what the Beam carried.
  question jsonb NOT NULL,
  -- Equal for the same question asked again.
  same text NOT NULL,
  rows int NOT NULL,
  complete boolean NOT NULL,
  -- How many events each bar of the timeline had.
  bars int[] NOT NULL
);
CREATE INDEX hunt_points_path ON hunt_points (path);
CREATE INDEX hunt_points_owner ON hunt_points (owner, made);

-- Results that are kept as they were, with the hunt, its window and when it was asked.
CREATE TABLE snapshots (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  note text NOT NULL DEFAULT '',
  owner text NOT NULL,
  asked timestamptz NOT NULL,
  question jsonb NOT NULL,
  columns jsonb NOT NULL,
  rows jsonb NOT NULL,
  events jsonb NOT NULL,
  row_count int NOT NULL,
  complete boolean NOT NULL
);
