-- What rules raised: matches of one subject gather in one alert.
CREATE TABLE alerts (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  document int NOT NULL,
  rule_version int NOT NULL,
  title text NOT NULL,
  level text NOT NULL CHECK (level IN ('informational', 'low', 'medium', 'high', 'critical')),
  -- Whom or what it is about: a text that names the group, and the fields it is made of.
  subject text COLLATE "C" NOT NULL,
  subject_fields jsonb NOT NULL,
  state text NOT NULL DEFAULT 'unread' CHECK (state IN ('unread', 'looking', 'settled')),
  verdict text CHECK (verdict IN ('real', 'harmless', 'wrong', 'unsure')),
  owner text REFERENCES users (name),
  matches int NOT NULL,
  first_event timestamptz NOT NULL,
  last_event timestamptz NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now(),
  -- Within its quiet an alert gathers matches of its key, settled or not.
  key text COLLATE "C" NOT NULL,
  reason text,
  merged_into bigint REFERENCES alerts (id)
);
-- The queue: by gravity, then the newest.
CREATE INDEX alerts_queue ON alerts (array_position(ARRAY['critical', 'high', 'medium', 'low', 'informational'], level), last_event DESC, id)
  WHERE state <> 'settled' AND merged_into IS NULL;
-- What a user did, and what was done to them.
CREATE INDEX alerts_user ON alerts ((subject_fields ->> 'user')) WHERE subject_fields ->> 'user' IS NOT NULL;
CREATE INDEX alerts_target_user ON alerts ((subject_fields ->> 'target_user')) WHERE subject_fields ->> 'target_user' IS NOT NULL;
CREATE INDEX alerts_latest ON alerts (rule, document, key, first_event DESC);
CREATE UNIQUE INDEX alerts_open ON alerts (rule, document, key) WHERE state <> 'settled';
CREATE INDEX alerts_subject ON alerts (subject);

CREATE TABLE alert_events (
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  event_id uuid NOT NULL,
  event_time timestamptz NOT NULL,
  PRIMARY KEY (alert, event_id)
);
CREATE INDEX alert_events_event ON alert_events (event_id);

CREATE TABLE alert_changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  what text NOT NULL
);
CREATE INDEX alert_changes_alert ON alert_changes (alert, id);
