-- What is done to records before they become events: marked, sent on, left out, or read by another recipe.
CREATE TABLE intake_rules (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  -- They are asked in this order.
  place int NOT NULL,
  title text NOT NULL,
  "on" boolean NOT NULL,
  -- Null for the records of all sources.
  source text REFERENCES sources (name) ON UPDATE CASCADE ON DELETE CASCADE,
  -- What is asked of a record, and done with it.
  document jsonb NOT NULL,
  updated timestamptz NOT NULL DEFAULT now(),
  -- Records that met it since it was made, and what became of those to be sent on, as far as they are summed up.
  met bigint NOT NULL DEFAULT 0,
  last_met timestamptz,
  forwarded bigint NOT NULL DEFAULT 0,
  not_forwarded bigint NOT NULL DEFAULT 0
);
CREATE INDEX intake_rules_source ON intake_rules (source);

-- What each batch adds to that, one row a batch and rule: batches that meet the same rule do not wait for each other.
CREATE TABLE intake_met (
  rule bigint NOT NULL REFERENCES intake_rules (id) ON DELETE CASCADE,
  met int NOT NULL,
  not_forwarded int NOT NULL,
  at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX intake_met_rule ON intake_met (rule);

-- Records on their way to somebody else: some of one batch together, until they are taken or given up.
CREATE TABLE forwards (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  rule bigint NOT NULL REFERENCES intake_rules (id) ON DELETE CASCADE,
  "to" text NOT NULL,
  source text NOT NULL,
  records text[] NOT NULL,
  -- Tells a receiver the same delivery again from a new one.
  key uuid NOT NULL DEFAULT gen_random_uuid(),
  tries int NOT NULL DEFAULT 0,
  given_up boolean NOT NULL DEFAULT false,
  next_try timestamptz NOT NULL DEFAULT now(),
  said text,
  created timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX forwards_rule ON forwards (rule);
CREATE INDEX forwards_due ON forwards (next_try) WHERE NOT given_up;

-- What tags mean, and their colour; a tag that stands here is not needed to be set.
CREATE TABLE tags (
  name text PRIMARY KEY,
  colour text NOT NULL CHECK (colour IN ('blue', 'ochre', 'verdigris', 'plum', 'sky', 'umber')),
  about text NOT NULL DEFAULT '',
  updated timestamptz NOT NULL DEFAULT now()
);

ALTER TABLE changes DROP CONSTRAINT changes_kind_check,
  ADD CONSTRAINT changes_kind_check
    CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person', 'subject', 'runbook', 'intake rule', 'recipe'));
