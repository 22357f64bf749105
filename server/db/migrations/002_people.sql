-- Who may use the workbench.
CREATE TABLE users (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL UNIQUE,
  display_name text NOT NULL,
  role text NOT NULL CHECK (role IN ('reader', 'analyst', 'admin')),
  -- Argon2id, with its parameters and salt.
  password_hash text NOT NULL,
  created timestamptz NOT NULL DEFAULT now(),
  -- Who is disabled cannot sign in, and sessions and tokens of earlier than this moment are worth nothing.
  disabled boolean NOT NULL DEFAULT false,
  valid_since timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE api_tokens (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  user_id uuid NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  label text NOT NULL,
  -- SHA-256 of the token; the token itself is shown once.
  token_hash bytea NOT NULL UNIQUE,
  created timestamptz NOT NULL DEFAULT now(),
  last_used timestamptz,
  -- Tokens end; who made each stands with it.
  expires timestamptz NOT NULL DEFAULT (now() + '90 days')
);
CREATE INDEX api_tokens_user ON api_tokens (user_id);

-- Sessions, as the session store lays them out.
CREATE TABLE sessions (
  sid text PRIMARY KEY,
  sess json NOT NULL,
  expire timestamptz NOT NULL
);
CREATE INDEX sessions_expire ON sessions (expire);
