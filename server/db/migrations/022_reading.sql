-- The zone of times that name none, where it is another than the recipe says.
ALTER TABLE sources ADD COLUMN zone text;
