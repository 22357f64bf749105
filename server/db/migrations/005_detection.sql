-- Rules: one text may hold several documents of the open Sigma format, which stand and fall together.
CREATE TABLE rules (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  title text NOT NULL,
  level text NOT NULL,
  text text NOT NULL,
  version int NOT NULL DEFAULT 1,
  enabled boolean NOT NULL DEFAULT false,
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE rule_versions (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  version int NOT NULL,
  text text NOT NULL,
  author text NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (rule, version)
);

-- Matches that a correlation still counts, by group. A hit is spent once it has completed a window.
CREATE TABLE correlation_hits (
  seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  -- The correlation's document within the text.
  document int NOT NULL,
  group_key text COLLATE "C" NOT NULL,
  "time" timestamptz NOT NULL,
  event_id uuid NOT NULL,
  spent boolean NOT NULL DEFAULT false,
  UNIQUE (rule, document, group_key, event_id)
);
CREATE INDEX correlation_hits_open ON correlation_hits (rule, document, group_key, "time") WHERE NOT spent;

CREATE TABLE alerts (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  rule_version int NOT NULL,
  title text NOT NULL,
  level text NOT NULL,
  -- Whom or what it is about: a text that names the group, and the fields it is made of.
  subject text COLLATE "C" NOT NULL,
  subject_fields jsonb NOT NULL,
  state text NOT NULL DEFAULT 'unread' CHECK (state IN ('unread', 'looking', 'settled')),
  verdict text CHECK (verdict IN ('real', 'harmless', 'wrong', 'unsure')),
  owner text,
  matches int NOT NULL,
  first_event timestamptz NOT NULL,
  last_event timestamptz NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now()
);
-- Matches gather in the one open alert of their rule and subject.
CREATE UNIQUE INDEX alerts_open ON alerts (rule, document, subject) WHERE state <> 'settled';
CREATE INDEX alerts_subject ON alerts (subject);

CREATE TABLE alert_events (
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  event_id uuid NOT NULL,
  event_time timestamptz NOT NULL,
  PRIMARY KEY (alert, event_id)
);

CREATE TABLE alert_changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  what text NOT NULL
);
