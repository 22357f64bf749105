-- Where actions go: rooms, mailboxes, addresses, collectors, programs. Secrets are sealed and never given out again.
CREATE TABLE destinations (
  name text PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('chat', 'mail', 'webhook', 'syslog', 'program', 'identity')),
  address text NOT NULL,
  settings jsonb NOT NULL DEFAULT '{}',
  secret bytea,
  -- Inside addresses are refused unless somebody allowed them.
  allow_private boolean NOT NULL DEFAULT false,
  updated timestamptz NOT NULL DEFAULT now()
);

-- The outbox: written with the alert, emptied by the job queue.
CREATE TABLE deliveries (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  -- What is to be done, as the rule says it.
  action jsonb NOT NULL,
  -- Tells a receiver the same delivery again from a new one.
  key uuid NOT NULL DEFAULT gen_random_uuid(),
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'sent', 'dead')),
  queued boolean NOT NULL DEFAULT false,
  tries int NOT NULL DEFAULT 0,
  said text,
  created timestamptz NOT NULL DEFAULT now(),
  finished timestamptz
);
CREATE INDEX deliveries_unqueued ON deliveries (id) WHERE NOT queued;
CREATE INDEX deliveries_alert ON deliveries (alert);
CREATE INDEX deliveries_latest ON deliveries (created DESC);

-- Buttons of messages: each may be pressed once.
CREATE TABLE answer_tokens (
  token_hash bytea PRIMARY KEY,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  does text NOT NULL,
  subject text NOT NULL,
  via text NOT NULL,
  expires timestamptz NOT NULL,
  used timestamptz
);

-- Responses: asked for, approved or refused, carried out, and written down.
CREATE TABLE responses (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  does text NOT NULL,
  subject text NOT NULL,
  state text NOT NULL DEFAULT 'asked' CHECK (state IN ('asked', 'approved', 'refused', 'done', 'failed')),
  asked_by text NOT NULL,
  asked timestamptz NOT NULL DEFAULT now(),
  decided_by text,
  decided timestamptz,
  said text
);
CREATE INDEX responses_alert ON responses (alert);

ALTER TABLE alerts ADD COLUMN reason text, ADD COLUMN merged_into bigint REFERENCES alerts (id);

-- Cases: what belongs together, and what was made of it.
CREATE TABLE cases (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  title text NOT NULL,
  owner text NOT NULL,
  state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'closed')),
  created timestamptz NOT NULL DEFAULT now(),
  updated timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE case_notes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  who text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  text text NOT NULL
);
CREATE TABLE case_pins (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  "case" bigint NOT NULL REFERENCES cases (id) ON DELETE CASCADE,
  kind text NOT NULL CHECK (kind IN ('event', 'alert', 'snapshot', 'hunt')),
  -- An event's id, an alert's or snapshot's number, or the address of a hunt.
  ref text NOT NULL,
  title text NOT NULL,
  time timestamptz,
  who text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  UNIQUE ("case", kind, ref)
);
