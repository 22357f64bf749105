-- Runbooks that were written or changed here; those that ship stand in the product.
CREATE TABLE runbooks (
  name text PRIMARY KEY,
  version int NOT NULL,
  -- As it was written, its words in their order.
  document json NOT NULL,
  changed_by text NOT NULL,
  changed timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE runbook_versions (
  name text NOT NULL REFERENCES runbooks (name) ON DELETE CASCADE,
  version int NOT NULL,
  document json NOT NULL,
  changed_by text NOT NULL,
  changed timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (name, version)
);

-- A run holds the document as it was when it began: a changed runbook changes no run.
CREATE TABLE runbook_runs (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  runbook text NOT NULL,
  version int NOT NULL,
  document json NOT NULL,
  alert bigint NOT NULL REFERENCES alerts (id) ON DELETE CASCADE,
  names jsonb NOT NULL,
  state text NOT NULL DEFAULT 'running' CHECK (state IN ('running', 'done', 'stopped', 'failed')),
  started_by text NOT NULL,
  started timestamptz NOT NULL DEFAULT now(),
  ended_by text,
  ended timestamptz,
  -- Why it was stopped, or failed.
  said text,
  -- The step it stands at; null once it is over.
  step text,
  -- What it waits for there; null for nothing.
  waits text CHECK (waits IN ('answer', 'response', 'time')),
  wake timestamptz,
  response bigint REFERENCES responses (id) ON DELETE SET NULL
);
CREATE INDEX runbook_runs_alert ON runbook_runs (alert);
CREATE INDEX runbook_runs_running ON runbook_runs (id) WHERE state = 'running';
-- One running at a time of the same on the same.
CREATE UNIQUE INDEX runbook_runs_once ON runbook_runs (runbook, alert) WHERE state = 'running';

CREATE TABLE runbook_steps (
  run bigint NOT NULL REFERENCES runbook_runs (id) ON DELETE CASCADE,
  step text NOT NULL,
  began timestamptz NOT NULL DEFAULT now(),
  ended timestamptz,
  who text,
  said text,
  -- What a hunt found: its columns and first rows.
  found jsonb,
  PRIMARY KEY (run, step)
);

-- Who takes a host off the network, and who takes rights away.
ALTER TABLE destinations DROP CONSTRAINT destinations_kind_check,
  ADD CONSTRAINT destinations_kind_check
    CHECK (kind IN ('chat', 'mail', 'webhook', 'syslog', 'program', 'identity', 'firewall', 'agent', 'cloud'));

ALTER TABLE changes DROP CONSTRAINT changes_kind_check,
  ADD CONSTRAINT changes_kind_check
    CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person', 'subject', 'runbook'));
