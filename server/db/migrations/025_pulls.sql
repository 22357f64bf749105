-- How an address is asked and its answers are followed, beyond a cursor and a token.
ALTER TABLE pulls
  ADD COLUMN speaks text NOT NULL DEFAULT 'json' CHECK (speaks IN ('json', 'taxii')),
  -- By a cursor in the answer, or by the Link header (RFC 8288).
  ADD COLUMN follow text NOT NULL DEFAULT 'cursor' CHECK (follow IN ('cursor', 'link')),
  -- The name under which an address is asked for what came since the last run; empty where it is not asked so.
  ADD COLUMN since_parameter text NOT NULL DEFAULT '',
  -- Feeds fill in late: each run asks for so much of what the last one covered again.
  ADD COLUMN overlap_seconds int NOT NULL DEFAULT 0 CHECK (overlap_seconds BETWEEN 0 AND 604800),
  -- When the newest run that went well began.
  ADD COLUMN covered_to timestamptz,
  -- OAuth 2.0 client credentials (RFC 6749, section 4.4): the sealed token is the secret then.
  ADD COLUMN token_address text NOT NULL DEFAULT '',
  ADD COLUMN client_id text NOT NULL DEFAULT '',
  ADD COLUMN scope text NOT NULL DEFAULT '',
  -- Of indicators of several kinds, those that this list takes; null for all.
  ADD COLUMN kind text;

-- Indicators that were fetched into lists, as they stand now: what is withdrawn goes.
CREATE TABLE pulled_indicators (
  list text NOT NULL REFERENCES lists (name) ON UPDATE CASCADE ON DELETE CASCADE,
  id text NOT NULL,
  modified text NOT NULL,
  -- Its rows; none once it is withdrawn.
  rows jsonb NOT NULL,
  PRIMARY KEY (list, id)
);
