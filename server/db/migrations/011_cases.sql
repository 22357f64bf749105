-- Cases: what belongs together, and what was made of it.
CREATE TABLE cases (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  title text NOT NULL,
  owner text NOT NULL REFERENCES users (name),
  state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'closed')),
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE case_pins (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  kind text NOT NULL CHECK (kind IN ('event', 'alert', 'snapshot', 'hunt')),
  -- An event's id, an alert's or snapshot's number, or the address of a hunt.
  ref text NOT NULL,
  title text NOT NULL,
  "time" timestamptz,
  who text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  UNIQUE ("case", kind, ref)
);

CREATE TABLE case_notes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  who text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  text text NOT NULL
);
CREATE INDEX case_notes_case ON case_notes ("case", id);
