-- Hunts that people keep: their own, and those they share. Every change of the text is a version.
CREATE TABLE saved_hunts (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  folder text NOT NULL DEFAULT '',
  description text NOT NULL DEFAULT '',
  tags text[] NOT NULL DEFAULT '{}',
  text text NOT NULL,
  owner text NOT NULL,
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
