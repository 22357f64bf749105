-- Sources can be renamed and deleted. What ids of events are derived from stays: a record sent again is known again.
ALTER TABLE sources
  -- Null where it is the name.
  ADD COLUMN identity text,
  -- Set when somebody deleted it; its events go day by day, and the row last.
  ADD COLUMN leaving timestamptz;

ALTER TABLE batches DROP CONSTRAINT batches_source_fkey,
  ADD CONSTRAINT batches_source_fkey FOREIGN KEY (source) REFERENCES sources (name) ON UPDATE CASCADE ON DELETE CASCADE;
ALTER TABLE set_aside DROP CONSTRAINT set_aside_source_fkey,
  ADD CONSTRAINT set_aside_source_fkey FOREIGN KEY (source) REFERENCES sources (name) ON UPDATE CASCADE ON DELETE CASCADE;
ALTER TABLE discarded_aside DROP CONSTRAINT discarded_aside_source_fkey,
  ADD CONSTRAINT discarded_aside_source_fkey FOREIGN KEY (source) REFERENCES sources (name) ON UPDATE CASCADE ON DELETE CASCADE;
ALTER TABLE rereads DROP CONSTRAINT rereads_source_fkey,
  ADD CONSTRAINT rereads_source_fkey FOREIGN KEY (source) REFERENCES sources (name) ON UPDATE CASCADE ON DELETE CASCADE,
  DROP CONSTRAINT rereads_recipe_version_fkey,
  ADD CONSTRAINT rereads_recipe_version_fkey FOREIGN KEY (recipe, version) REFERENCES recipes (name, version) ON UPDATE CASCADE ON DELETE CASCADE;
