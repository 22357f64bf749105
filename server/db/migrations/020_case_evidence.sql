-- What evidence says, beside the evidence itself, so that a case is shown without reading all that it holds.
ALTER TABLE case_pins ADD COLUMN says jsonb;
