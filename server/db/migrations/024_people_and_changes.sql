-- People: who is disabled cannot sign in, and sessions and tokens of earlier than this moment are worth nothing.
ALTER TABLE users
  ADD COLUMN disabled boolean NOT NULL DEFAULT false,
  ADD COLUMN valid_since timestamptz NOT NULL DEFAULT now();

-- Tokens end; who made each stands with it.
ALTER TABLE api_tokens ADD COLUMN expires timestamptz NOT NULL DEFAULT now() + interval '90 days';
CREATE INDEX api_tokens_user ON api_tokens (user_id);

-- Who changed what, and when: rules, log sources, lists, destinations, keys and people.
CREATE TABLE changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  who text NOT NULL,
  kind text NOT NULL CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person')),
  name text NOT NULL,
  what text NOT NULL
);
CREATE INDEX changes_of ON changes (kind, name, id DESC);

-- Addresses that are pulled may lie inside only where somebody allowed it, as destinations.
ALTER TABLE pulls ADD COLUMN allow_private boolean NOT NULL DEFAULT false;

-- Why somebody approved what they asked for themselves.
ALTER TABLE responses ADD COLUMN reason text;
