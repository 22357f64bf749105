-- Responses at a firewall, with an end; they can be undone by hand or end by themselves.
ALTER TABLE destinations DROP CONSTRAINT destinations_kind_check,
  ADD CONSTRAINT destinations_kind_check
    CHECK (kind IN ('chat', 'mail', 'webhook', 'syslog', 'program', 'identity', 'firewall'));
ALTER TABLE responses DROP CONSTRAINT responses_state_check,
  ADD CONSTRAINT responses_state_check
    CHECK (state IN ('asked', 'approved', 'refused', 'done', 'failed', 'undone', 'ended')),
  -- For how long it is asked for, and when it ends.
  ADD COLUMN hours int,
  ADD COLUMN ends timestamptz,
  -- By whom, or by the clock, it is being taken back; null while it holds.
  ADD COLUMN undone_by text;
CREATE INDEX responses_ends ON responses (ends) WHERE state = 'done' AND ends IS NOT NULL AND undone_by IS NULL;
