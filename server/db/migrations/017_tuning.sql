-- What a changed rule text would have found, replayed beside the one it was made from: kept with the version it became.
CREATE TABLE rule_proofs (
  rule uuid NOT NULL REFERENCES rules (id) ON DELETE CASCADE,
  text_hash bytea NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  since timestamptz NOT NULL,
  until timestamptz NOT NULL,
  matches_before int NOT NULL,
  matches_after int NOT NULL,
  alerts_before int NOT NULL,
  alerts_after int NOT NULL,
  real_kept int NOT NULL,
  real_lost int NOT NULL,
  PRIMARY KEY (rule, text_hash)
);
CREATE INDEX alerts_began ON alerts (first_event);
