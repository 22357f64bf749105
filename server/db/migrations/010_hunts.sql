-- Hunts that people keep: their own, and those they share. Every change of the text is a version.
CREATE TABLE saved_hunts (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  folder text NOT NULL DEFAULT '',
  description text NOT NULL DEFAULT '',
  tags text[] NOT NULL DEFAULT '{}',
  text text NOT NULL,
  owner text NOT NULL REFERENCES users (name),
  shared boolean NOT NULL DEFAULT false,
  version int NOT NULL DEFAULT 1,
  changed timestamptz NOT NULL DEFAULT now()
);
-- One name for each person, so that a list can be read.
CREATE UNIQUE INDEX saved_hunts_name ON saved_hunts (owner, lower(name));

CREATE TABLE saved_hunt_versions (
  hunt bigint NOT NULL REFERENCES saved_hunts (id) ON DELETE CASCADE,
  version int NOT NULL,
  text text NOT NULL,
  by text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (hunt, version)
);

-- The branching history of hunts: every question asked and what came of it, each after the one it was changed from.
CREATE TABLE hunt_points (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  -- The first point of the path.
  path bigint NOT NULL REFERENCES hunt_points (id) ON DELETE CASCADE,
  parent bigint REFERENCES hunt_points (id) ON DELETE CASCADE,
  owner text NOT NULL REFERENCES users (name),
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
CREATE INDEX hunt_points_owner ON hunt_points (owner, made);
CREATE INDEX hunt_points_path ON hunt_points (path);

-- Results that are kept as they were, with the hunt, its window and when it was asked.
CREATE TABLE snapshots (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  note text NOT NULL DEFAULT '',
  owner text NOT NULL REFERENCES users (name),
  asked timestamptz NOT NULL,
  question jsonb NOT NULL,
  columns jsonb NOT NULL,
  rows jsonb NOT NULL,
  events jsonb NOT NULL,
  row_count int NOT NULL,
  complete boolean NOT NULL
);
