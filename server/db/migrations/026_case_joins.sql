-- Who follows a case, which cases belong together, and files that are pinned to them.
CREATE TABLE case_watchers (
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  who text NOT NULL REFERENCES users (name),
  -- When they last looked at it: what changed since is news to them.
  seen timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY ("case", who)
);

-- Both ways; the smaller number stands first.
CREATE TABLE case_links (
  one bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  other bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  why text NOT NULL DEFAULT '',
  who text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (one, other),
  CHECK (one < other)
);
CREATE INDEX case_links_other ON case_links (other);

-- Each once by its hash; the pin tells its name and who brought it.
CREATE TABLE case_files (
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  sha256 text NOT NULL,
  bytes bytea NOT NULL,
  PRIMARY KEY ("case", sha256)
);

ALTER TABLE case_pins DROP CONSTRAINT case_pins_kind_check,
  ADD CONSTRAINT case_pins_kind_check CHECK (kind IN ('event', 'alert', 'snapshot', 'hunt', 'response', 'file'));
