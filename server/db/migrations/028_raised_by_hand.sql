-- Alerts that no rule raised: somebody who hunted did, by hand.
ALTER TABLE alerts ALTER COLUMN rule DROP NOT NULL,
  ADD CONSTRAINT alerts_rule_version_check CHECK (rule IS NOT NULL OR document = 0 AND rule_version = 0);
-- One that is open about a subject is enough.
CREATE UNIQUE INDEX alerts_open_by_hand ON alerts (key) WHERE rule IS NULL AND state <> 'settled';
