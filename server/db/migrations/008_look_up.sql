-- Rows of lists as hunts look them up: those that still hold.
CREATE VIEW wick.list_rows AS
  SELECT list, position, folded, network, pattern, cells FROM public.list_rows WHERE expires IS NULL OR expires > now();
