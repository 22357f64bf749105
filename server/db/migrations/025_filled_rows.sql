-- Refuses a step that would make more rows than may be, before any are made: true where they are few enough.
CREATE FUNCTION wick.few_rows(rows bigint, most bigint, line int) RETURNS boolean LANGUAGE plpgsql STABLE AS $$
BEGIN
  IF rows > most THEN
    RAISE EXCEPTION USING ERRCODE = 'UL001', MESSAGE = line::text;
  END IF;
  RETURN true;
END $$;
