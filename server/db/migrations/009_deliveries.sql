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
CREATE INDEX deliveries_alert ON deliveries (alert);
-- How the deliveries of a destination stand.
CREATE INDEX deliveries_destination ON deliveries ((action ->> 'to'), state);
CREATE INDEX deliveries_latest ON deliveries (created DESC);
CREATE INDEX deliveries_unqueued ON deliveries (id) WHERE NOT queued;

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
  said text,
  -- Why somebody approved what they asked for themselves.
  reason text
);
CREATE INDEX responses_alert ON responses (alert);

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
