-- A case as a story: a number of its year, what it stands at, evidence frozen when it is pinned, tasks, subjects by role.
ALTER TABLE cases
  ADD COLUMN number text COLLATE "C",
  ADD COLUMN severity text CHECK (severity IN ('informational', 'low', 'medium', 'high', 'critical')),
  ADD COLUMN verdict text CHECK (verdict IN ('real', 'harmless', 'wrong', 'unsure')),
  ADD COLUMN waiting_on text NOT NULL DEFAULT '',
  ADD COLUMN lede text NOT NULL DEFAULT '',
  ADD COLUMN marking text NOT NULL DEFAULT 'amber' CHECK (marking IN ('red', 'amber+strict', 'amber', 'green', 'clear')),
  -- Who gave it to its owner, with a line, and when.
  ADD COLUMN handed_by text,
  ADD COLUMN handed_line text NOT NULL DEFAULT '',
  ADD COLUMN handed_at timestamptz,
  ADD COLUMN merged_into bigint REFERENCES cases (id);
UPDATE cases SET number = n.number
  FROM (SELECT id, to_char(created AT TIME ZONE 'UTC', 'YY') || '-' ||
               row_number() OVER (PARTITION BY date_trunc('year', created AT TIME ZONE 'UTC') ORDER BY id) AS number FROM cases) AS n
 WHERE n.id = cases.id;
ALTER TABLE cases ALTER COLUMN number SET NOT NULL, ADD CONSTRAINT cases_number UNIQUE (number);

ALTER TABLE case_pins
  ADD COLUMN why text NOT NULL DEFAULT '',
  ADD COLUMN key boolean NOT NULL DEFAULT false,
  ADD COLUMN marking text CHECK (marking IN ('red', 'amber+strict', 'amber', 'green', 'clear')),
  -- What it was when it was pinned, as canonical JSON (RFC 8785), and the SHA-256 of that text.
  ADD COLUMN frozen text,
  ADD COLUMN sha256 text,
  ADD CONSTRAINT case_pins_hashed CHECK ((frozen IS NULL) = (sha256 IS NULL));
-- What a case holds cannot be deleted elsewhere.
CREATE INDEX case_pins_ref ON case_pins (kind, ref);

ALTER TABLE case_notes
  ADD COLUMN pin bigint REFERENCES case_pins (id) ON DELETE SET NULL,
  ADD COLUMN in_report boolean NOT NULL DEFAULT true,
  -- What was done, written down by the workbench.
  ADD COLUMN is_line boolean NOT NULL DEFAULT false;

-- A note that is being written, one a person: nobody overwrites another's.
CREATE TABLE case_drafts (
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  who text NOT NULL,
  pin bigint REFERENCES case_pins (id) ON DELETE SET NULL,
  text text NOT NULL,
  updated timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY ("case", who)
);

CREATE TABLE case_tasks (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  what text NOT NULL,
  owner text NOT NULL REFERENCES users (name),
  due timestamptz,
  done timestamptz,
  done_by text,
  created timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX case_tasks_case ON case_tasks ("case", id);

CREATE TABLE case_subjects (
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  kind text NOT NULL,
  name text COLLATE "C" NOT NULL,
  role text NOT NULL CHECK (role IN ('victim', 'used', 'attacker', 'affected')),
  who text NOT NULL,
  PRIMARY KEY ("case", kind, name)
);
CREATE INDEX case_subjects_name ON case_subjects (name);
