-- More pairs of values of which sightings are kept, for dossiers: which ids go with which names, which addresses with
-- which hosts, and what was done by, to, in and through each subject. A name is only usable once this is committed.
ALTER TYPE sighting_pair ADD VALUE 'user and country';
ALTER TYPE sighting_pair ADD VALUE 'user and account';
ALTER TYPE sighting_pair ADD VALUE 'user and resource';
ALTER TYPE sighting_pair ADD VALUE 'user and id';
ALTER TYPE sighting_pair ADD VALUE 'host and address';
ALTER TYPE sighting_pair ADD VALUE 'host and operation';
ALTER TYPE sighting_pair ADD VALUE 'address and operation';
ALTER TYPE sighting_pair ADD VALUE 'account and operation';
ALTER TYPE sighting_pair ADD VALUE 'resource and operation';
ALTER TYPE sighting_pair ADD VALUE 'application and operation';
ALTER TYPE sighting_pair ADD VALUE 'target and operation';
