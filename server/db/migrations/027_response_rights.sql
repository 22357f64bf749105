-- Who may ask for a response and who may approve it, where somebody said so; else analysts do both, never one alone.
CREATE TABLE response_rights (
  does text PRIMARY KEY,
  asks text NOT NULL CHECK (asks IN ('analyst', 'admin')),
  approves text NOT NULL CHECK (approves IN ('analyst', 'admin')),
  -- Whether an administrator may approve what they asked for themselves, saying why.
  alone boolean NOT NULL,
  updated timestamptz NOT NULL DEFAULT now()
);
