-- Identical records of one delivery are events of their own, also while they are set aside: the mark tells them apart.
ALTER TABLE set_aside ADD COLUMN mark bytea NOT NULL DEFAULT '';
ALTER TABLE set_aside DROP CONSTRAINT set_aside_source_raw_hash_key;
ALTER TABLE set_aside ADD UNIQUE (source, raw_hash, mark);

-- Why a rule was switched off by itself: it failed while matching. Null for all others.
ALTER TABLE rules ADD COLUMN suspended jsonb;
