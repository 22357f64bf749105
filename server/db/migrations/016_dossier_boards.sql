-- A person may change the dossier of a kind of subject: one board of their own a kind, as with the Desk.
ALTER TABLE boards ADD COLUMN dossier subject_kind;
CREATE UNIQUE INDEX boards_dossier ON boards (owner, dossier) WHERE dossier IS NOT NULL;

-- Alerts by any name that their subject holds.
CREATE INDEX alerts_named ON alerts USING gin (jsonb_path_query_array(subject_fields, '$.*'));
