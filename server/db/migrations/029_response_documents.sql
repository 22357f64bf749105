-- Responses that were written or changed here; those that ship stand in the product.
CREATE TABLE response_documents (
  name text PRIMARY KEY,
  version int NOT NULL,
  -- As it was written, its words in their order.
  document json NOT NULL,
  changed_by text NOT NULL,
  changed timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE response_document_versions (
  name text NOT NULL REFERENCES response_documents (name) ON DELETE CASCADE,
  version int NOT NULL,
  document json NOT NULL,
  changed_by text NOT NULL,
  changed timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (name, version)
);

-- What was asked for is what is approved, done and taken back, whatever becomes of its document. Null for what was asked
-- for before documents could be changed: those that ship.
ALTER TABLE responses ADD COLUMN document json;

ALTER TABLE changes DROP CONSTRAINT changes_kind_check,
  ADD CONSTRAINT changes_kind_check
    CHECK (kind IN ('rule', 'log source', 'list', 'destination', 'source', 'person', 'subject', 'runbook', 'response', 'intake rule', 'recipe'));
