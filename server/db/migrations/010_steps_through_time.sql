-- What the steps that follow keys through time need.

CREATE FUNCTION wick.micros(t timestamptz) RETURNS bigint LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (extract(epoch FROM t) * 1000000)::bigint;

-- The middle of some numbers, between the two in the middle where they are even; null of none.
CREATE FUNCTION wick.median(figures float8[]) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY f) FROM unnest(figures) AS f);

-- The median absolute deviation, comparable with a standard deviation of normal data.
CREATE FUNCTION wick.spread(figures float8[], usual float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (SELECT wick.multiply(1.4826, percentile_cont(0.5) WITHIN GROUP (ORDER BY abs(wick.subtract(f, usual)))) FROM unnest(figures) AS f);

-- Completed sequences among the rows of one key, in the order they happened. marks holds a bit for each stage a row
-- meets, needs how many rows each stage needs. Of each sequence: the places of the first row of every stage, then of
-- its last row. Greedy: from each start the earliest rows; after a completed one the search goes on behind it.
CREATE FUNCTION wick.sequences(times bigint[], marks int[], needs int[], within bigint) RETURNS SETOF int[]
LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  rows_in_all CONSTANT int := cardinality(times);
  stages CONSTANT int := cardinality(needs);
  start int := 1;
  place int;
  stage int;
  met int;
  firsts int[];
BEGIN
  WHILE start <= rows_in_all LOOP
    IF marks[start] & 1 = 1 THEN
      place := start; stage := 1; met := 0; firsts := '{}';
      WHILE stage <= stages AND place <= rows_in_all AND times[place] - times[start] <= within LOOP
        IF marks[place] & (1 << (stage - 1)) <> 0 THEN
          IF met = 0 THEN firsts := firsts || place; END IF;
          met := met + 1;
          IF met = needs[stage] THEN stage := stage + 1; met := 0; END IF;
        END IF;
        place := place + 1;
      END LOOP;
      IF stage > stages THEN
        RETURN NEXT firsts || (place - 1);
        start := place;
        CONTINUE;
      END IF;
      -- Too few rows are left for this start, and so for every later one.
      EXIT WHEN place > rows_in_all;
    END IF;
    start := start + 1;
  END LOOP;
END $$;
