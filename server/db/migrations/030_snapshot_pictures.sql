-- How a result was shown when it was kept: the picture of its card; null for plain rows.
ALTER TABLE snapshots ADD COLUMN picture jsonb;
