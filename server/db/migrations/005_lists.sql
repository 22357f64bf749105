-- Keyed reference data.
CREATE TABLE lists (
  name text PRIMARY KEY,
  match text NOT NULL CHECK (match IN ('exact', 'network', 'wildcard')),
  key_column text NOT NULL,
  updated timestamptz NOT NULL DEFAULT now(),
  -- What it is for.
  description text NOT NULL DEFAULT ''
);

CREATE TABLE list_rows (
  list text NOT NULL REFERENCES lists (name) ON DELETE CASCADE,
  "position" int NOT NULL,
  key text NOT NULL,
  -- The key as conditions find it: folded text, a network, or a LIKE pattern.
  folded text COLLATE "C" NOT NULL,
  network inet,
  pattern text,
  cells jsonb NOT NULL,
  -- A row may hold only until a moment.
  expires timestamptz,
  PRIMARY KEY (list, "position")
);
CREATE INDEX list_rows_folded ON list_rows (list, folded);
CREATE INDEX list_rows_network ON list_rows USING gist (network inet_ops);

CREATE VIEW wick.list_keys AS
  SELECT list, folded, network, pattern FROM list_rows WHERE expires IS NULL OR expires > now();

-- Rows of lists as hunts look them up: those that still hold.
CREATE VIEW wick.list_rows AS
  SELECT list, position, folded, network, pattern, cells FROM public.list_rows WHERE expires IS NULL OR expires > now();
