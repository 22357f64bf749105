CREATE SCHEMA wick;

-- The shortest decimal that reads back as the same number, the nearest of several, as memory spells it. PostgreSQL's own
-- spelling passes over those that lie exactly between two numbers, such as 1e23; such are whole and beyond 2^53.
CREATE FUNCTION wick.shortest(x float8) RETURNS numeric LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  m float8 := abs(x);
  k int := 0;
  whole numeric;
  digits int;
  c numeric;
BEGIN
  WHILE m >= 9007199254740992 LOOP m := m / 2; k := k + 1; END LOOP;
  whole := m::bigint::numeric * 2::numeric ^ k;
  whole := trunc(whole);
  digits := length(whole::text);
  FOR d IN 1..17 LOOP
    c := round(whole, d - digits);
    IF c <= 1.7976931348623157e308 AND c::float8 = abs(x) THEN RETURN sign(x)::numeric * c; END IF;
  END LOOP;
  RETURN sign(x)::numeric * whole;
END $$;

-- ---- numbers ------------------------------------------------------------------------------------

-- An exact decimal of the shortest spelling of a float.
CREATE FUNCTION wick.decimal(x float8) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(x) < 9007199254740992 THEN x::text::numeric ELSE wick.shortest(x) END;

-- The nearest float; null beyond 64 bits, 0 below their normal range.
CREATE FUNCTION wick.float(n numeric) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(n) > 1.7976931348623157e308 THEN NULL
       WHEN abs(n) < 2.2250738585072014e-308 THEN 0
       ELSE n::float8 END;

-- Arithmetic that cannot overflow: the plain way wherever neither side is extreme.
CREATE FUNCTION wick.add(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e307 AND abs(b) < 1e307 THEN a + b ELSE wick.float(wick.decimal(a) + wick.decimal(b)) END;

-- ---- addresses ----------------------------------------------------------------------------------

-- One strict reading of IPv4 and IPv6: no masks, no leading zeros in IPv4, one gap at most in IPv6.
CREATE FUNCTION wick.address(t text) RETURNS inet LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  v4 CONSTANT text := '(?:(?:25[0-5]|2[0-4][0-9]|1[0-9][0-9]|[1-9]?[0-9])\.){3}(?:25[0-5]|2[0-4][0-9]|1[0-9][0-9]|[1-9]?[0-9])';
  s text := wick.trim(t);
  sides text[];
  words int;
BEGIN
  IF length(s) > 45 THEN RETURN NULL; END IF;
  IF position(':' IN s) = 0 THEN
    RETURN CASE WHEN s ~ ('^' || v4 || '$') THEN s::inet END;
  END IF;
  -- An embedded IPv4 address stands for the last two words.
  s := regexp_replace(s, ':' || v4 || '$', ':0:0');
  IF s !~ '^[0-9a-fA-F:]+$' OR s ~ '[0-9a-fA-F]{5}' OR s ~ ':::' THEN RETURN NULL; END IF;
  sides := string_to_array(s, '::');
  IF array_length(sides, 1) > 2 OR sides[1] ~ '(^:|:$)' OR COALESCE(sides[2], '') ~ '(^:|:$)' THEN RETURN NULL; END IF;
  words := COALESCE(array_length(string_to_array(NULLIF(sides[1], ''), ':'), 1), 0)
         + COALESCE(array_length(string_to_array(NULLIF(sides[2], ''), ':'), 1), 0);
  IF (array_length(sides, 1) = 1 AND words <> 8) OR (array_length(sides, 1) = 2 AND words > 7) THEN RETURN NULL; END IF;
  RETURN wick.trim(t)::inet;
END $$;

CREATE FUNCTION wick.any_number(v jsonb) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'number' THEN wick.float((v #>> '{}')::numeric) END;

-- A plain decimal with optional sign and outer white space.
CREATE FUNCTION wick.number(t text) RETURNS float8 LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  s text := wick.trim(t);
BEGIN
  IF length(s) > 400 OR s !~ '^[+-]?([0-9]+(\.[0-9]*)?|\.[0-9]+)$' THEN RETURN NULL; END IF;
  RETURN wick.float(s::numeric);
END $$;

CREATE FUNCTION wick.any_read_number(v jsonb) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'number' THEN wick.float((v #>> '{}')::numeric)
                       WHEN 'string' THEN wick.number(v #>> '{}') END;

CREATE FUNCTION wick.any_string(v jsonb) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'string' THEN v #>> '{}' END;

-- ---- values of any type -------------------------------------------------------------------------
CREATE FUNCTION wick.json_text(v jsonb) RETURNS text LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF v IS NULL THEN RETURN NULL; END IF;
  CASE jsonb_typeof(v)
    WHEN 'object' THEN
      RETURN '{' || COALESCE((SELECT string_agg(to_json(key)::text || ':' || wick.json_text(value), ',' ORDER BY key COLLATE "C") FROM jsonb_each(v)), '') || '}';
    WHEN 'array' THEN
      RETURN '[' || COALESCE((SELECT string_agg(wick.json_text(value), ',' ORDER BY ordinality) FROM jsonb_array_elements(v) WITH ORDINALITY), '') || ']';
    WHEN 'number' THEN RETURN wick.number_text(wick.float((v #>> '{}')::numeric));
    WHEN 'string' THEN RETURN to_json(v #>> '{}')::text;
    ELSE RETURN v::text;
  END CASE;
END $$;

CREATE FUNCTION wick.any_text(v jsonb) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'string' THEN v #>> '{}'
                       WHEN 'null' THEN NULL
                       ELSE wick.json_text(v) END;

-- A time as records write it: ISO 8601, or seconds, milliseconds or microseconds since 1970 by their size.
CREATE FUNCTION wick.any_time(v jsonb) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  t timestamptz := wick.instant(wick.any_string(v));
  n float8;
BEGIN
  IF t IS NOT NULL THEN RETURN t; END IF;
  n := wick.any_read_number(v);
  IF n IS NULL OR n < 0 OR n > 253402300799999999 THEN RETURN NULL; END IF;
  RETURN 'epoch'::timestamptz + (round((CASE WHEN n < 1e11 THEN n * 1e6 WHEN n < 1e14 THEN n * 1e3 ELSE n END)::numeric)::text || ' microseconds')::interval;
END $$;

-- Where a value of mixed type stands in an order: numbers, text, the rest.
CREATE FUNCTION wick.rank(v jsonb) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NULL OR jsonb_typeof(v) = 'null' THEN NULL
       WHEN jsonb_typeof(v) = 'number' THEN 0 WHEN jsonb_typeof(v) = 'string' THEN 1 ELSE 2 END;

-- The first hundred of distinct values, numbers before texts before the rest.
CREATE FUNCTION wick.any_values(v jsonb[]) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN
    (SELECT jsonb_agg(f.e ORDER BY wick.rank(f.e), wick.any_number(f.e), wick.any_text(f.e) COLLATE "C")
     FROM (SELECT e FROM unnest(v) AS e ORDER BY wick.rank(e), wick.any_number(e), wick.any_text(e) COLLATE "C" LIMIT 100) AS f) END;

-- What is null for its size is told once as a notice, which becomes a remark.
CREATE FUNCTION wick.tell_long() RETURNS text LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  RAISE NOTICE 'lamp: long-text';
  RETURN NULL;
END $$;

-- Texts that are made are at most a million characters; longer ones are null.
CREATE FUNCTION wick.bounded(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN octet_length(t) <= 1000000 OR length(t) <= 1000000 THEN t WHEN t IS NOT NULL THEN wick.tell_long() END;

-- Times are of the years 1 to 9999; others are null. No duration is longer than a hundred years.
CREATE FUNCTION wick.far_shift(t timestamptz, i interval) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  e float8 := extract(epoch FROM t)::float8 + extract(epoch FROM i)::float8;
BEGIN
  IF t IS NULL THEN RETURN NULL; END IF;
  IF e < -62135596800 OR e >= 253402300800 THEN RETURN wick.tell_far(); END IF;
  RETURN t + i;
END $$;

-- The start of a bucket, counted from Monday 1970-01-05 00:00 UTC.
CREATE FUNCTION wick.bucket(t timestamptz, micros bigint) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t >= '1970-01-05 00:00:00+00'
       THEN date_bin(make_interval(secs => micros / 1000000), t, '1970-01-05 00:00:00+00')
       WHEN t >= '0102-01-01 00:00:00+00'
       THEN '1970-01-05 00:00:00+00'::timestamptz
         + floor(extract(epoch FROM t - '1970-01-05 00:00:00+00') * 1000000 / micros)::bigint * make_interval(secs => micros / 1000000)
       ELSE wick.far_shift('1970-01-05 00:00:00+00'::timestamptz,
         floor(extract(epoch FROM t - '1970-01-05 00:00:00+00') * 1000000 / micros)::bigint * make_interval(secs => micros / 1000000)) END;

-- Base64 of either alphabet to text; NUL bytes are dropped, the rest must be UTF-8 (RFC 3629), which is looked at
-- in hexadecimal: catching an error instead would forbid parallel workers.
CREATE FUNCTION wick.decode_base64(t text) RETURNS text LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  compact text := translate(regexp_replace(t, E'[ \t\n\u000b\f\r]+', '', 'g'), '-_', '+/');
  body text := regexp_replace(compact, '={1,2}$', '');
  hex text;
BEGIN
  IF t IS NULL OR body !~ '^[A-Za-z0-9+/]*$' OR length(body) % 4 = 1
     OR (length(compact) <> length(body) AND length(compact) % 4 <> 0) THEN RETURN NULL; END IF;
  hex := encode(decode(rpad(body, ((length(body) + 3) / 4) * 4, '='), 'base64'), 'hex');
  hex := replace(replace(regexp_replace(hex, '(..)', E'\\1 ', 'g'), '00 ', ''), ' ', '');
  IF hex !~ '^(?:[0-7][0-9a-f]|(?:c[2-9a-f]|d[0-9a-f])[89ab][0-9a-f]|e0[ab][0-9a-f][89ab][0-9a-f]|e[1-9a-cef](?:[89ab][0-9a-f]){2}|ed[89][0-9a-f][89ab][0-9a-f]|f0[9ab][0-9a-f](?:[89ab][0-9a-f]){2}|f[1-3](?:[89ab][0-9a-f]){3}|f48[0-9a-f](?:[89ab][0-9a-f]){2})*$' THEN RETURN NULL; END IF;
  RETURN convert_from(decode(hex, 'hex'), 'UTF8');
END $$;

-- Standard deviation of a sample from its exact sums; null under two.
CREATE FUNCTION wick.deviation(n bigint, total numeric, squares numeric) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN n < 2 THEN NULL
       ELSE sqrt(greatest(0, wick.float(n * squares - total * total)) / (n::float8 * (n - 1)::float8)) END;

-- Haversine, Earth as a ball of 6371 km; kilometres to nine decimals.
CREATE FUNCTION wick.distance_km(lat1 float8, lon1 float8, lat2 float8, lon2 float8) RETURNS float8 LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  s1 float8; s2 float8; h float8;
BEGIN
  IF NOT (abs(lat1) <= 90 AND abs(lat2) <= 90 AND abs(lon1) <= 180 AND abs(lon2) <= 180) OR lat1 IS NULL OR lat2 IS NULL OR lon1 IS NULL OR lon2 IS NULL THEN RETURN NULL; END IF;
  s1 := sin(radians(lat2 - lat1) / 2);
  s2 := sin(radians(lon2 - lon1) / 2);
  -- Squares of very small sines leave the range of floats and count for nothing.
  s1 := CASE WHEN abs(s1) < 1e-150 THEN 0 ELSE s1 * s1 END;
  s2 := CASE WHEN abs(s2) < 1e-150 THEN 0 ELSE cos(radians(lat1)) * cos(radians(lat2)) * s2 * s2 END;
  h := s1 + s2;
  RETURN wick.round(2 * 6371 * asin(least(1, sqrt(h))), 9);
END $$;

CREATE FUNCTION wick.divide(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN b = 0 THEN NULL
       WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND abs(b) > 1e-150 THEN a / b + 0
       ELSE wick.float(wick.decimal(a) / wick.decimal(b)) END;

-- The elements of a list, or the value itself, null too.
CREATE FUNCTION wick.elements(v jsonb) RETURNS SETOF jsonb LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE ROWS 2 AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN QUERY SELECT NULLIF(e.value, 'null'::jsonb) FROM jsonb_array_elements(v) AS e(value);
  ELSE
    RETURN NEXT v;
  END IF;
END $$;

-- Halves away from zero, in decimal.
CREATE FUNCTION wick.round(x float8, places float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN places <> trunc(places) OR places < -20 OR places > 20 THEN NULL
       ELSE wick.float(round(wick.decimal(x), places::int)) END;

-- Shannon entropy in bits per code point, to nine decimals.
CREATE FUNCTION wick.entropy(t text) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t IS NULL THEN NULL WHEN t = '' THEN 0 ELSE
    (SELECT wick.round(COALESCE(-sum(c.n / length(t) * (ln(c.n / length(t)) / ln(2.0::float8))), 0), 9)
     FROM (SELECT count(*)::float8 AS n FROM unnest(string_to_array(t, NULL)) AS s GROUP BY s COLLATE "C") AS c) END;

-- Refuses a step that would make more rows than may be, before any are made: true where they are few enough.
CREATE FUNCTION wick.few_rows(rows bigint, most bigint, line int) RETURNS boolean LANGUAGE plpgsql STABLE AS $$
BEGIN
  IF rows > most THEN
    RAISE EXCEPTION USING ERRCODE = 'UL001', MESSAGE = line::text;
  END IF;
  RETURN true;
END $$;

CREATE FUNCTION wick.holds(sign int, v jsonb, t boolean) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, t));
  END IF;
  -- Truth values are equal or do not compare.
  RETURN sign IN (-1, 0, 1) AND jsonb_typeof(v) = 'boolean' AND v = to_jsonb(t);
END $$;

CREATE FUNCTION wick.holds(sign int, v jsonb, x float8) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, x));
  END IF;
  RETURN wick.meets(sign, wick.order_of(wick.any_read_number(v), x));
END $$;

CREATE FUNCTION wick.holds(sign int, v jsonb, t inet) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  a inet;
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, t));
  END IF;
  a := wick.address(wick.any_string(v));
  RETURN wick.meets(sign, CASE WHEN a < t THEN -1 WHEN a = t THEN 0 WHEN a > t THEN 1 END);
END $$;

CREATE FUNCTION wick.holds(sign int, v jsonb, w jsonb) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  CASE jsonb_typeof(w)
    WHEN 'string' THEN RETURN wick.holds(sign, v, w #>> '{}');
    WHEN 'number' THEN RETURN wick.holds(sign, v, wick.any_number(w));
    WHEN 'boolean' THEN RETURN wick.holds(sign, v, (w #>> '{}')::boolean);
    WHEN 'array' THEN
      RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(w) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, v, e));
    ELSE RETURN FALSE;
  END CASE;
END $$;

-- A value of any type against one of a known type: text is read as the other side's type.
CREATE FUNCTION wick.holds(sign int, v jsonb, t text) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  CASE jsonb_typeof(v)
    WHEN 'string' THEN RETURN wick.meets(sign, wick.order_of(v #>> '{}', t));
    WHEN 'number' THEN RETURN wick.meets(sign, wick.order_of(wick.any_number(v), wick.number(t)));
    WHEN 'array' THEN
      RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, t));
    ELSE RETURN FALSE;
  END CASE;
END $$;

CREATE FUNCTION wick.holds(sign int, v jsonb, t timestamptz) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  a timestamptz;
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, t));
  END IF;
  a := wick.instant(wick.any_string(v));
  RETURN wick.meets(sign, CASE WHEN a < t THEN -1 WHEN a = t THEN 0 WHEN a > t THEN 1 END);
END $$;

CREATE FUNCTION wick.in_years(t timestamptz, i interval) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t >= '0102-01-01 00:00:00+00' AND t < '9899-01-01 00:00:00+00' THEN t + i ELSE wick.far_shift(t, i) END;

-- ISO 8601: a date, or date and time to the minute, second or fraction, zone or UTC.
CREATE FUNCTION wick.read_instant(t text) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  m text[] := regexp_match(wick.trim(t),
    '^([0-9]{4})-([0-9]{2})-([0-9]{2})(?:[T ]([0-9]{2}):([0-9]{2})(?::([0-9]{2})(?:[.,]([0-9]{1,9}))?)?(?: ?([Zz]|[+-][0-9]{2}(?::?[0-9]{2})?))?)?$');
  y int; mo int; d int; days int; minutes int := 0;
BEGIN
  IF m IS NULL THEN RETURN NULL; END IF;
  y := m[1]; mo := m[2]; d := m[3];
  IF y < 1 OR mo < 1 OR mo > 12 OR d < 1 THEN RETURN NULL; END IF;
  days := CASE WHEN mo = 2 THEN CASE WHEN y % 4 = 0 AND (y % 100 <> 0 OR y % 400 = 0) THEN 29 ELSE 28 END
               WHEN mo IN (4, 6, 9, 11) THEN 30 ELSE 31 END;
  IF d > days OR m[4]::int > 23 OR m[5]::int > 59 OR m[6]::int > 59 THEN RETURN NULL; END IF;
  IF upper(m[8]) <> 'Z' THEN
    IF substr(m[8], 2, 2)::int > 15 OR COALESCE(NULLIF(replace(substr(m[8], 4), ':', ''), ''), '0')::int > 59 THEN RETURN NULL; END IF;
    minutes := (substr(m[8], 1, 1) || '1')::int
      * (substr(m[8], 2, 2)::int * 60 + COALESCE(NULLIF(replace(substr(m[8], 4), ':', ''), ''), '0')::int);
  END IF;
  RETURN make_timestamptz(y, mo, d, COALESCE(m[4]::int, 0), COALESCE(m[5]::int, 0), COALESCE(m[6]::int, 0), 'UTC')
    + (rpad(substr(COALESCE(m[7], ''), 1, 6), 6, '0') || ' microseconds')::interval - make_interval(mins => minutes);
END $$;

-- ISO 8601: a date, or date and time to the minute, second or fraction, zone or UTC.
CREATE FUNCTION wick.instant(t text) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  r timestamptz := wick.read_instant(t);
BEGIN
  IF r < '0001-01-01 00:00:00+00' OR r >= '10000-01-01 00:00:00+00' THEN RETURN NULL; END IF;
  RETURN r;
END $$;

-- True when any value (not key) holds the needle, which is given in small ASCII letters.
CREATE FUNCTION wick.json_has(v jsonb, needle text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  EXISTS (SELECT 1 FROM jsonb_path_query(v, 'strict $.**') AS e
          WHERE jsonb_typeof(e) IN ('string', 'number', 'boolean')
            AND strpos(lower(wick.any_text(e) COLLATE "C") COLLATE "C", needle) > 0);

-- A key of an object; of anything else nothing, where #> would count a list by it.
CREATE FUNCTION wick.key(v jsonb, k text) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN jsonb_typeof(v) = 'object' THEN v -> k END;

CREATE FUNCTION wick.leaves(message text, original jsonb) RETURNS SETOF text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT message UNION ALL
  (WITH RECURSIVE parts(v) AS (
     SELECT original
     UNION ALL
     SELECT inner_part.value FROM parts AS p CROSS JOIN LATERAL (
       SELECT e.value FROM jsonb_each(CASE jsonb_typeof(p.v) WHEN 'object' THEN p.v ELSE '{}' END) AS e
       UNION ALL
       SELECT a.value FROM jsonb_array_elements(CASE jsonb_typeof(p.v) WHEN 'array' THEN p.v ELSE '[]' END) AS a(value)
     ) AS inner_part)
   SELECT wick.any_text(v) FROM parts WHERE jsonb_typeof(v) NOT IN ('object', 'array'))
$$;

-- The clock of a zone, by the moments its offset changed and the offsets between, in seconds.
CREATE FUNCTION wick.local_time(t timestamptz, starts timestamptz[], offsets float8[]) RETURNS timestamp LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (t AT TIME ZONE 'UTC') + make_interval(secs => offsets[1 + width_bucket(t, starts)]);

-- Letters in small and capital by one pinned table (Unicode 16.0, simple mappings, as core/text/letter-runs.ts has it), the
-- same as in memory, whatever library the database is built with. Texts without such a letter take the plain way.
CREATE FUNCTION wick.lower(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN octet_length(t) = length(t) OR NOT t ~ '[\u00c0-\u00d6\u00d8-\u00de\u0100\u0102\u0104\u0106\u0108\u010a\u010c\u010e\u0110\u0112\u0114\u0116\u0118\u011a\u011c\u011e\u0120\u0122\u0124\u0126\u0128\u012a\u012c\u012e\u0130\u0132\u0134\u0136\u0139\u013b\u013d\u013f\u0141\u0143\u0145\u0147\u014a\u014c\u014e\u0150\u0152\u0154\u0156\u0158\u015a\u015c\u015e\u0160\u0162\u0164\u0166\u0168\u016a\u016c\u016e\u0170\u0172\u0174\u0176\u0178\u0179\u017b\u017d\u0181\u0182\u0184\u0186\u0187\u0189-\u018a\u018b\u018e\u018f\u0190\u0191\u0193\u0194\u0196\u0197\u0198\u019c\u019d\u019f\u01a0\u01a2\u01a4\u01a6\u01a7\u01a9\u01ac\u01ae\u01af\u01b1-\u01b2\u01b3\u01b5\u01b7\u01b8\u01bc\u01c4\u01c5\u01c7\u01c8\u01ca\u01cb\u01cd\u01cf\u01d1\u01d3\u01d5\u01d7\u01d9\u01db\u01de\u01e0\u01e2\u01e4\u01e6\u01e8\u01ea\u01ec\u01ee\u01f1\u01f2\u01f4\u01f6\u01f7\u01f8\u01fa\u01fc\u01fe\u0200\u0202\u0204\u0206\u0208\u020a\u020c\u020e\u0210\u0212\u0214\u0216\u0218\u021a\u021c\u021e\u0220\u0222\u0224\u0226\u0228\u022a\u022c\u022e\u0230\u0232\u023a\u023b\u023d\u023e\u0241\u0243\u0244\u0245\u0246\u0248\u024a\u024c\u024e\u0370\u0372\u0376\u037f\u0386\u0388-\u038a\u038c\u038e-\u038f\u0391-\u03a1\u03a3-\u03ab\u03cf\u03d8\u03da\u03dc\u03de\u03e0\u03e2\u03e4\u03e6\u03e8\u03ea\u03ec\u03ee\u03f4\u03f7\u03f9\u03fa\u03fd-\u03ff\u0400-\u040f\u0410-\u042f\u0460\u0462\u0464\u0466\u0468\u046a\u046c\u046e\u0470\u0472\u0474\u0476\u0478\u047a\u047c\u047e\u0480\u048a\u048c\u048e\u0490\u0492\u0494\u0496\u0498\u049a\u049c\u049e\u04a0\u04a2\u04a4\u04a6\u04a8\u04aa\u04ac\u04ae\u04b0\u04b2\u04b4\u04b6\u04b8\u04ba\u04bc\u04be\u04c0\u04c1\u04c3\u04c5\u04c7\u04c9\u04cb\u04cd\u04d0\u04d2\u04d4\u04d6\u04d8\u04da\u04dc\u04de\u04e0\u04e2\u04e4\u04e6\u04e8\u04ea\u04ec\u04ee\u04f0\u04f2\u04f4\u04f6\u04f8\u04fa\u04fc\u04fe\u0500\u0502\u0504\u0506\u0508\u050a\u050c\u050e\u0510\u0512\u0514\u0516\u0518\u051a\u051c\u051e\u0520\u0522\u0524\u0526\u0528\u052a\u052c\u052e\u0531-\u0556\u10a0-\u10c5\u10c7\u10cd\u13a0-\u13ef\u13f0-\u13f5\u1c89\u1c90-\u1cba\u1cbd-\u1cbf\u1e00\u1e02\u1e04\u1e06\u1e08\u1e0a\u1e0c\u1e0e\u1e10\u1e12\u1e14\u1e16\u1e18\u1e1a\u1e1c\u1e1e\u1e20\u1e22\u1e24\u1e26\u1e28\u1e2a\u1e2c\u1e2e\u1e30\u1e32\u1e34\u1e36\u1e38\u1e3a\u1e3c\u1e3e\u1e40\u1e42\u1e44\u1e46\u1e48\u1e4a\u1e4c\u1e4e\u1e50\u1e52\u1e54\u1e56\u1e58\u1e5a\u1e5c\u1e5e\u1e60\u1e62\u1e64\u1e66\u1e68\u1e6a\u1e6c\u1e6e\u1e70\u1e72\u1e74\u1e76\u1e78\u1e7a\u1e7c\u1e7e\u1e80\u1e82\u1e84\u1e86\u1e88\u1e8a\u1e8c\u1e8e\u1e90\u1e92\u1e94\u1e9e\u1ea0\u1ea2\u1ea4\u1ea6\u1ea8\u1eaa\u1eac\u1eae\u1eb0\u1eb2\u1eb4\u1eb6\u1eb8\u1eba\u1ebc\u1ebe\u1ec0\u1ec2\u1ec4\u1ec6\u1ec8\u1eca\u1ecc\u1ece\u1ed0\u1ed2\u1ed4\u1ed6\u1ed8\u1eda\u1edc\u1ede\u1ee0\u1ee2\u1ee4\u1ee6\u1ee8\u1eea\u1eec\u1eee\u1ef0\u1ef2\u1ef4\u1ef6\u1ef8\u1efa\u1efc\u1efe\u1f08-\u1f0f\u1f18-\u1f1d\u1f28-\u1f2f\u1f38-\u1f3f\u1f48-\u1f4d\u1f59\u1f5b\u1f5d\u1f5f\u1f68-\u1f6f\u1f88-\u1f8f\u1f98-\u1f9f\u1fa8-\u1faf\u1fb8-\u1fb9\u1fba-\u1fbb\u1fbc\u1fc8-\u1fcb\u1fcc\u1fd8-\u1fd9\u1fda-\u1fdb\u1fe8-\u1fe9\u1fea-\u1feb\u1fec\u1ff8-\u1ff9\u1ffa-\u1ffb\u1ffc\u2126\u212a\u212b\u2132\u2160-\u216f\u2183\u24b6-\u24cf\u2c00-\u2c2f\u2c60\u2c62\u2c63\u2c64\u2c67\u2c69\u2c6b\u2c6d\u2c6e\u2c6f\u2c70\u2c72\u2c75\u2c7e-\u2c7f\u2c80\u2c82\u2c84\u2c86\u2c88\u2c8a\u2c8c\u2c8e\u2c90\u2c92\u2c94\u2c96\u2c98\u2c9a\u2c9c\u2c9e\u2ca0\u2ca2\u2ca4\u2ca6\u2ca8\u2caa\u2cac\u2cae\u2cb0\u2cb2\u2cb4\u2cb6\u2cb8\u2cba\u2cbc\u2cbe\u2cc0\u2cc2\u2cc4\u2cc6\u2cc8\u2cca\u2ccc\u2cce\u2cd0\u2cd2\u2cd4\u2cd6\u2cd8\u2cda\u2cdc\u2cde\u2ce0\u2ce2\u2ceb\u2ced\u2cf2\ua640\ua642\ua644\ua646\ua648\ua64a\ua64c\ua64e\ua650\ua652\ua654\ua656\ua658\ua65a\ua65c\ua65e\ua660\ua662\ua664\ua666\ua668\ua66a\ua66c\ua680\ua682\ua684\ua686\ua688\ua68a\ua68c\ua68e\ua690\ua692\ua694\ua696\ua698\ua69a\ua722\ua724\ua726\ua728\ua72a\ua72c\ua72e\ua732\ua734\ua736\ua738\ua73a\ua73c\ua73e\ua740\ua742\ua744\ua746\ua748\ua74a\ua74c\ua74e\ua750\ua752\ua754\ua756\ua758\ua75a\ua75c\ua75e\ua760\ua762\ua764\ua766\ua768\ua76a\ua76c\ua76e\ua779\ua77b\ua77d\ua77e\ua780\ua782\ua784\ua786\ua78b\ua78d\ua790\ua792\ua796\ua798\ua79a\ua79c\ua79e\ua7a0\ua7a2\ua7a4\ua7a6\ua7a8\ua7aa\ua7ab\ua7ac\ua7ad\ua7ae\ua7b0\ua7b1\ua7b2\ua7b3\ua7b4\ua7b6\ua7b8\ua7ba\ua7bc\ua7be\ua7c0\ua7c2\ua7c4\ua7c5\ua7c6\ua7c7\ua7c9\ua7cb\ua7cc\ua7d0\ua7d6\ua7d8\ua7da\ua7dc\ua7f5\uff21-\uff3a\U00010400-\U00010427\U000104b0-\U000104d3\U00010570-\U0001057a\U0001057c-\U0001058a\U0001058c-\U00010592\U00010594-\U00010595\U00010c80-\U00010cb2\U00010d50-\U00010d65\U000118a0-\U000118bf\U00016e40-\U00016e5f\U0001e900-\U0001e921]' COLLATE "C" THEN lower(t COLLATE "C") COLLATE "C"
       ELSE translate(lower(t COLLATE "C"), U&'\00c0\00c1\00c2\00c3\00c4\00c5\00c6\00c7\00c8\00c9\00ca\00cb\00cc\00cd\00ce\00cf\00d0\00d1\00d2\00d3\00d4\00d5\00d6\00d8\00d9\00da\00db\00dc\00dd\00de\0100\0102\0104\0106\0108\010a\010c\010e\0110\0112\0114\0116\0118\011a\011c\011e\0120\0122\0124\0126\0128\012a\012c\012e\0130\0132\0134\0136\0139\013b\013d\013f\0141\0143\0145\0147\014a\014c\014e\0150\0152\0154\0156\0158\015a\015c\015e\0160\0162\0164\0166\0168\016a\016c\016e\0170\0172\0174\0176\0178\0179\017b\017d\0181\0182\0184\0186\0187\0189\018a\018b\018e\018f\0190\0191\0193\0194\0196\0197\0198\019c\019d\019f\01a0\01a2\01a4\01a6\01a7\01a9\01ac\01ae\01af\01b1\01b2\01b3\01b5\01b7\01b8\01bc\01c4\01c5\01c7\01c8\01ca\01cb\01cd\01cf\01d1\01d3\01d5\01d7\01d9\01db\01de\01e0\01e2\01e4\01e6\01e8\01ea\01ec\01ee\01f1\01f2\01f4\01f6\01f7\01f8\01fa\01fc\01fe\0200\0202\0204\0206\0208\020a\020c\020e\0210\0212\0214\0216\0218\021a\021c\021e\0220\0222\0224\0226\0228\022a\022c\022e\0230\0232\023a\023b\023d\023e\0241\0243\0244\0245\0246\0248\024a\024c\024e\0370\0372\0376\037f\0386\0388\0389\038a\038c\038e\038f\0391\0392\0393\0394\0395\0396\0397\0398\0399\039a\039b\039c\039d\039e\039f\03a0\03a1\03a3\03a4\03a5\03a6\03a7\03a8\03a9\03aa\03ab\03cf\03d8\03da\03dc\03de\03e0\03e2\03e4\03e6\03e8\03ea\03ec\03ee\03f4\03f7\03f9\03fa\03fd\03fe\03ff\0400\0401\0402\0403\0404\0405\0406\0407\0408\0409\040a\040b\040c\040d\040e\040f\0410\0411\0412\0413\0414\0415\0416\0417\0418\0419\041a\041b\041c\041d\041e\041f\0420\0421\0422\0423\0424\0425\0426\0427\0428\0429\042a\042b\042c\042d\042e\042f\0460\0462\0464\0466\0468\046a\046c\046e\0470\0472\0474\0476\0478\047a\047c\047e\0480\048a\048c\048e\0490\0492\0494\0496\0498\049a\049c\049e\04a0\04a2\04a4\04a6\04a8\04aa\04ac\04ae\04b0\04b2\04b4\04b6\04b8\04ba\04bc\04be\04c0\04c1\04c3\04c5\04c7\04c9\04cb\04cd\04d0\04d2\04d4\04d6\04d8\04da\04dc\04de\04e0\04e2\04e4\04e6\04e8\04ea\04ec\04ee\04f0\04f2\04f4\04f6\04f8\04fa\04fc\04fe\0500\0502\0504\0506\0508\050a\050c\050e\0510\0512\0514\0516\0518\051a\051c\051e\0520\0522\0524\0526\0528\052a\052c\052e\0531\0532\0533\0534\0535\0536\0537\0538\0539\053a\053b\053c\053d\053e\053f\0540\0541\0542\0543\0544\0545\0546\0547\0548\0549\054a\054b\054c\054d\054e\054f\0550\0551\0552\0553\0554\0555\0556\10a0\10a1\10a2\10a3\10a4\10a5\10a6\10a7\10a8\10a9\10aa\10ab\10ac\10ad\10ae\10af\10b0\10b1\10b2\10b3\10b4\10b5\10b6\10b7\10b8\10b9\10ba\10bb\10bc\10bd\10be\10bf\10c0\10c1\10c2\10c3\10c4\10c5\10c7\10cd\13a0\13a1\13a2\13a3\13a4\13a5\13a6\13a7\13a8\13a9\13aa\13ab\13ac\13ad\13ae\13af\13b0\13b1\13b2\13b3\13b4\13b5\13b6\13b7\13b8\13b9\13ba\13bb\13bc\13bd\13be\13bf\13c0\13c1\13c2\13c3\13c4\13c5\13c6\13c7\13c8\13c9\13ca\13cb\13cc\13cd\13ce\13cf\13d0\13d1\13d2\13d3\13d4\13d5\13d6\13d7\13d8\13d9\13da\13db\13dc\13dd\13de\13df\13e0\13e1\13e2\13e3\13e4\13e5\13e6\13e7\13e8\13e9\13ea\13eb\13ec\13ed\13ee\13ef\13f0\13f1\13f2\13f3\13f4\13f5\1c89\1c90\1c91\1c92\1c93\1c94\1c95\1c96\1c97\1c98\1c99\1c9a\1c9b\1c9c\1c9d\1c9e\1c9f\1ca0\1ca1\1ca2\1ca3\1ca4\1ca5\1ca6\1ca7\1ca8\1ca9\1caa\1cab\1cac\1cad\1cae\1caf\1cb0\1cb1\1cb2\1cb3\1cb4\1cb5\1cb6\1cb7\1cb8\1cb9\1cba\1cbd\1cbe\1cbf\1e00\1e02\1e04\1e06\1e08\1e0a\1e0c\1e0e\1e10\1e12\1e14\1e16\1e18\1e1a\1e1c\1e1e\1e20\1e22\1e24\1e26\1e28\1e2a\1e2c\1e2e\1e30\1e32\1e34\1e36\1e38\1e3a\1e3c\1e3e\1e40\1e42\1e44\1e46\1e48\1e4a\1e4c\1e4e\1e50\1e52\1e54\1e56\1e58\1e5a\1e5c\1e5e\1e60\1e62\1e64\1e66\1e68\1e6a\1e6c\1e6e\1e70\1e72\1e74\1e76\1e78\1e7a\1e7c\1e7e\1e80\1e82\1e84\1e86\1e88\1e8a\1e8c\1e8e\1e90\1e92\1e94\1e9e\1ea0\1ea2\1ea4\1ea6\1ea8\1eaa\1eac\1eae\1eb0\1eb2\1eb4\1eb6\1eb8\1eba\1ebc\1ebe\1ec0\1ec2\1ec4\1ec6\1ec8\1eca\1ecc\1ece\1ed0\1ed2\1ed4\1ed6\1ed8\1eda\1edc\1ede\1ee0\1ee2\1ee4\1ee6\1ee8\1eea\1eec\1eee\1ef0\1ef2\1ef4\1ef6\1ef8\1efa\1efc\1efe\1f08\1f09\1f0a\1f0b\1f0c\1f0d\1f0e\1f0f\1f18\1f19\1f1a\1f1b\1f1c\1f1d\1f28\1f29\1f2a\1f2b\1f2c\1f2d\1f2e\1f2f\1f38\1f39\1f3a\1f3b\1f3c\1f3d\1f3e\1f3f\1f48\1f49\1f4a\1f4b\1f4c\1f4d\1f59\1f5b\1f5d\1f5f\1f68\1f69\1f6a\1f6b\1f6c\1f6d\1f6e\1f6f\1f88\1f89\1f8a\1f8b\1f8c\1f8d\1f8e\1f8f\1f98\1f99\1f9a\1f9b\1f9c\1f9d\1f9e\1f9f\1fa8\1fa9\1faa\1fab\1fac\1fad\1fae\1faf\1fb8\1fb9\1fba\1fbb\1fbc\1fc8\1fc9\1fca\1fcb\1fcc\1fd8\1fd9\1fda\1fdb\1fe8\1fe9\1fea\1feb\1fec\1ff8\1ff9\1ffa\1ffb\1ffc\2126\212a\212b\2132\2160\2161\2162\2163\2164\2165\2166\2167\2168\2169\216a\216b\216c\216d\216e\216f\2183\24b6\24b7\24b8\24b9\24ba\24bb\24bc\24bd\24be\24bf\24c0\24c1\24c2\24c3\24c4\24c5\24c6\24c7\24c8\24c9\24ca\24cb\24cc\24cd\24ce\24cf\2c00\2c01\2c02\2c03\2c04\2c05\2c06\2c07\2c08\2c09\2c0a\2c0b\2c0c\2c0d\2c0e\2c0f\2c10\2c11\2c12\2c13\2c14\2c15\2c16\2c17\2c18\2c19\2c1a\2c1b\2c1c\2c1d\2c1e\2c1f\2c20\2c21\2c22\2c23\2c24\2c25\2c26\2c27\2c28\2c29\2c2a\2c2b\2c2c\2c2d\2c2e\2c2f\2c60\2c62\2c63\2c64\2c67\2c69\2c6b\2c6d\2c6e\2c6f\2c70\2c72\2c75\2c7e\2c7f\2c80\2c82\2c84\2c86\2c88\2c8a\2c8c\2c8e\2c90\2c92\2c94\2c96\2c98\2c9a\2c9c\2c9e\2ca0\2ca2\2ca4\2ca6\2ca8\2caa\2cac\2cae\2cb0\2cb2\2cb4\2cb6\2cb8\2cba\2cbc\2cbe\2cc0\2cc2\2cc4\2cc6\2cc8\2cca\2ccc\2cce\2cd0\2cd2\2cd4\2cd6\2cd8\2cda\2cdc\2cde\2ce0\2ce2\2ceb\2ced\2cf2\a640\a642\a644\a646\a648\a64a\a64c\a64e\a650\a652\a654\a656\a658\a65a\a65c\a65e\a660\a662\a664\a666\a668\a66a\a66c\a680\a682\a684\a686\a688\a68a\a68c\a68e\a690\a692\a694\a696\a698\a69a\a722\a724\a726\a728\a72a\a72c\a72e\a732\a734\a736\a738\a73a\a73c\a73e\a740\a742\a744\a746\a748\a74a\a74c\a74e\a750\a752\a754\a756\a758\a75a\a75c\a75e\a760\a762\a764\a766\a768\a76a\a76c\a76e\a779\a77b\a77d\a77e\a780\a782\a784\a786\a78b\a78d\a790\a792\a796\a798\a79a\a79c\a79e\a7a0\a7a2\a7a4\a7a6\a7a8\a7aa\a7ab\a7ac\a7ad\a7ae\a7b0\a7b1\a7b2\a7b3\a7b4\a7b6\a7b8\a7ba\a7bc\a7be\a7c0\a7c2\a7c4\a7c5\a7c6\a7c7\a7c9\a7cb\a7cc\a7d0\a7d6\a7d8\a7da\a7dc\a7f5\ff21\ff22\ff23\ff24\ff25\ff26\ff27\ff28\ff29\ff2a\ff2b\ff2c\ff2d\ff2e\ff2f\ff30\ff31\ff32\ff33\ff34\ff35\ff36\ff37\ff38\ff39\ff3a\+010400\+010401\+010402\+010403\+010404\+010405\+010406\+010407\+010408\+010409\+01040a\+01040b\+01040c\+01040d\+01040e\+01040f\+010410\+010411\+010412\+010413\+010414\+010415\+010416\+010417\+010418\+010419\+01041a\+01041b\+01041c\+01041d\+01041e\+01041f\+010420\+010421\+010422\+010423\+010424\+010425\+010426\+010427\+0104b0\+0104b1\+0104b2\+0104b3\+0104b4\+0104b5\+0104b6\+0104b7\+0104b8\+0104b9\+0104ba\+0104bb\+0104bc\+0104bd\+0104be\+0104bf\+0104c0\+0104c1\+0104c2\+0104c3\+0104c4\+0104c5\+0104c6\+0104c7\+0104c8\+0104c9\+0104ca\+0104cb\+0104cc\+0104cd\+0104ce\+0104cf\+0104d0\+0104d1\+0104d2\+0104d3\+010570\+010571\+010572\+010573\+010574\+010575\+010576\+010577\+010578\+010579\+01057a\+01057c\+01057d\+01057e\+01057f\+010580\+010581\+010582\+010583\+010584\+010585\+010586\+010587\+010588\+010589\+01058a\+01058c\+01058d\+01058e\+01058f\+010590\+010591\+010592\+010594\+010595\+010c80\+010c81\+010c82\+010c83\+010c84\+010c85\+010c86\+010c87\+010c88\+010c89\+010c8a\+010c8b\+010c8c\+010c8d\+010c8e\+010c8f\+010c90\+010c91\+010c92\+010c93\+010c94\+010c95\+010c96\+010c97\+010c98\+010c99\+010c9a\+010c9b\+010c9c\+010c9d\+010c9e\+010c9f\+010ca0\+010ca1\+010ca2\+010ca3\+010ca4\+010ca5\+010ca6\+010ca7\+010ca8\+010ca9\+010caa\+010cab\+010cac\+010cad\+010cae\+010caf\+010cb0\+010cb1\+010cb2\+010d50\+010d51\+010d52\+010d53\+010d54\+010d55\+010d56\+010d57\+010d58\+010d59\+010d5a\+010d5b\+010d5c\+010d5d\+010d5e\+010d5f\+010d60\+010d61\+010d62\+010d63\+010d64\+010d65\+0118a0\+0118a1\+0118a2\+0118a3\+0118a4\+0118a5\+0118a6\+0118a7\+0118a8\+0118a9\+0118aa\+0118ab\+0118ac\+0118ad\+0118ae\+0118af\+0118b0\+0118b1\+0118b2\+0118b3\+0118b4\+0118b5\+0118b6\+0118b7\+0118b8\+0118b9\+0118ba\+0118bb\+0118bc\+0118bd\+0118be\+0118bf\+016e40\+016e41\+016e42\+016e43\+016e44\+016e45\+016e46\+016e47\+016e48\+016e49\+016e4a\+016e4b\+016e4c\+016e4d\+016e4e\+016e4f\+016e50\+016e51\+016e52\+016e53\+016e54\+016e55\+016e56\+016e57\+016e58\+016e59\+016e5a\+016e5b\+016e5c\+016e5d\+016e5e\+016e5f\+01e900\+01e901\+01e902\+01e903\+01e904\+01e905\+01e906\+01e907\+01e908\+01e909\+01e90a\+01e90b\+01e90c\+01e90d\+01e90e\+01e90f\+01e910\+01e911\+01e912\+01e913\+01e914\+01e915\+01e916\+01e917\+01e918\+01e919\+01e91a\+01e91b\+01e91c\+01e91d\+01e91e\+01e91f\+01e920\+01e921', U&'\00e0\00e1\00e2\00e3\00e4\00e5\00e6\00e7\00e8\00e9\00ea\00eb\00ec\00ed\00ee\00ef\00f0\00f1\00f2\00f3\00f4\00f5\00f6\00f8\00f9\00fa\00fb\00fc\00fd\00fe\0101\0103\0105\0107\0109\010b\010d\010f\0111\0113\0115\0117\0119\011b\011d\011f\0121\0123\0125\0127\0129\012b\012d\012f\0069\0133\0135\0137\013a\013c\013e\0140\0142\0144\0146\0148\014b\014d\014f\0151\0153\0155\0157\0159\015b\015d\015f\0161\0163\0165\0167\0169\016b\016d\016f\0171\0173\0175\0177\00ff\017a\017c\017e\0253\0183\0185\0254\0188\0256\0257\018c\01dd\0259\025b\0192\0260\0263\0269\0268\0199\026f\0272\0275\01a1\01a3\01a5\0280\01a8\0283\01ad\0288\01b0\028a\028b\01b4\01b6\0292\01b9\01bd\01c6\01c6\01c9\01c9\01cc\01cc\01ce\01d0\01d2\01d4\01d6\01d8\01da\01dc\01df\01e1\01e3\01e5\01e7\01e9\01eb\01ed\01ef\01f3\01f3\01f5\0195\01bf\01f9\01fb\01fd\01ff\0201\0203\0205\0207\0209\020b\020d\020f\0211\0213\0215\0217\0219\021b\021d\021f\019e\0223\0225\0227\0229\022b\022d\022f\0231\0233\2c65\023c\019a\2c66\0242\0180\0289\028c\0247\0249\024b\024d\024f\0371\0373\0377\03f3\03ac\03ad\03ae\03af\03cc\03cd\03ce\03b1\03b2\03b3\03b4\03b5\03b6\03b7\03b8\03b9\03ba\03bb\03bc\03bd\03be\03bf\03c0\03c1\03c3\03c4\03c5\03c6\03c7\03c8\03c9\03ca\03cb\03d7\03d9\03db\03dd\03df\03e1\03e3\03e5\03e7\03e9\03eb\03ed\03ef\03b8\03f8\03f2\03fb\037b\037c\037d\0450\0451\0452\0453\0454\0455\0456\0457\0458\0459\045a\045b\045c\045d\045e\045f\0430\0431\0432\0433\0434\0435\0436\0437\0438\0439\043a\043b\043c\043d\043e\043f\0440\0441\0442\0443\0444\0445\0446\0447\0448\0449\044a\044b\044c\044d\044e\044f\0461\0463\0465\0467\0469\046b\046d\046f\0471\0473\0475\0477\0479\047b\047d\047f\0481\048b\048d\048f\0491\0493\0495\0497\0499\049b\049d\049f\04a1\04a3\04a5\04a7\04a9\04ab\04ad\04af\04b1\04b3\04b5\04b7\04b9\04bb\04bd\04bf\04cf\04c2\04c4\04c6\04c8\04ca\04cc\04ce\04d1\04d3\04d5\04d7\04d9\04db\04dd\04df\04e1\04e3\04e5\04e7\04e9\04eb\04ed\04ef\04f1\04f3\04f5\04f7\04f9\04fb\04fd\04ff\0501\0503\0505\0507\0509\050b\050d\050f\0511\0513\0515\0517\0519\051b\051d\051f\0521\0523\0525\0527\0529\052b\052d\052f\0561\0562\0563\0564\0565\0566\0567\0568\0569\056a\056b\056c\056d\056e\056f\0570\0571\0572\0573\0574\0575\0576\0577\0578\0579\057a\057b\057c\057d\057e\057f\0580\0581\0582\0583\0584\0585\0586\2d00\2d01\2d02\2d03\2d04\2d05\2d06\2d07\2d08\2d09\2d0a\2d0b\2d0c\2d0d\2d0e\2d0f\2d10\2d11\2d12\2d13\2d14\2d15\2d16\2d17\2d18\2d19\2d1a\2d1b\2d1c\2d1d\2d1e\2d1f\2d20\2d21\2d22\2d23\2d24\2d25\2d27\2d2d\ab70\ab71\ab72\ab73\ab74\ab75\ab76\ab77\ab78\ab79\ab7a\ab7b\ab7c\ab7d\ab7e\ab7f\ab80\ab81\ab82\ab83\ab84\ab85\ab86\ab87\ab88\ab89\ab8a\ab8b\ab8c\ab8d\ab8e\ab8f\ab90\ab91\ab92\ab93\ab94\ab95\ab96\ab97\ab98\ab99\ab9a\ab9b\ab9c\ab9d\ab9e\ab9f\aba0\aba1\aba2\aba3\aba4\aba5\aba6\aba7\aba8\aba9\abaa\abab\abac\abad\abae\abaf\abb0\abb1\abb2\abb3\abb4\abb5\abb6\abb7\abb8\abb9\abba\abbb\abbc\abbd\abbe\abbf\13f8\13f9\13fa\13fb\13fc\13fd\1c8a\10d0\10d1\10d2\10d3\10d4\10d5\10d6\10d7\10d8\10d9\10da\10db\10dc\10dd\10de\10df\10e0\10e1\10e2\10e3\10e4\10e5\10e6\10e7\10e8\10e9\10ea\10eb\10ec\10ed\10ee\10ef\10f0\10f1\10f2\10f3\10f4\10f5\10f6\10f7\10f8\10f9\10fa\10fd\10fe\10ff\1e01\1e03\1e05\1e07\1e09\1e0b\1e0d\1e0f\1e11\1e13\1e15\1e17\1e19\1e1b\1e1d\1e1f\1e21\1e23\1e25\1e27\1e29\1e2b\1e2d\1e2f\1e31\1e33\1e35\1e37\1e39\1e3b\1e3d\1e3f\1e41\1e43\1e45\1e47\1e49\1e4b\1e4d\1e4f\1e51\1e53\1e55\1e57\1e59\1e5b\1e5d\1e5f\1e61\1e63\1e65\1e67\1e69\1e6b\1e6d\1e6f\1e71\1e73\1e75\1e77\1e79\1e7b\1e7d\1e7f\1e81\1e83\1e85\1e87\1e89\1e8b\1e8d\1e8f\1e91\1e93\1e95\00df\1ea1\1ea3\1ea5\1ea7\1ea9\1eab\1ead\1eaf\1eb1\1eb3\1eb5\1eb7\1eb9\1ebb\1ebd\1ebf\1ec1\1ec3\1ec5\1ec7\1ec9\1ecb\1ecd\1ecf\1ed1\1ed3\1ed5\1ed7\1ed9\1edb\1edd\1edf\1ee1\1ee3\1ee5\1ee7\1ee9\1eeb\1eed\1eef\1ef1\1ef3\1ef5\1ef7\1ef9\1efb\1efd\1eff\1f00\1f01\1f02\1f03\1f04\1f05\1f06\1f07\1f10\1f11\1f12\1f13\1f14\1f15\1f20\1f21\1f22\1f23\1f24\1f25\1f26\1f27\1f30\1f31\1f32\1f33\1f34\1f35\1f36\1f37\1f40\1f41\1f42\1f43\1f44\1f45\1f51\1f53\1f55\1f57\1f60\1f61\1f62\1f63\1f64\1f65\1f66\1f67\1f80\1f81\1f82\1f83\1f84\1f85\1f86\1f87\1f90\1f91\1f92\1f93\1f94\1f95\1f96\1f97\1fa0\1fa1\1fa2\1fa3\1fa4\1fa5\1fa6\1fa7\1fb0\1fb1\1f70\1f71\1fb3\1f72\1f73\1f74\1f75\1fc3\1fd0\1fd1\1f76\1f77\1fe0\1fe1\1f7a\1f7b\1fe5\1f78\1f79\1f7c\1f7d\1ff3\03c9\006b\00e5\214e\2170\2171\2172\2173\2174\2175\2176\2177\2178\2179\217a\217b\217c\217d\217e\217f\2184\24d0\24d1\24d2\24d3\24d4\24d5\24d6\24d7\24d8\24d9\24da\24db\24dc\24dd\24de\24df\24e0\24e1\24e2\24e3\24e4\24e5\24e6\24e7\24e8\24e9\2c30\2c31\2c32\2c33\2c34\2c35\2c36\2c37\2c38\2c39\2c3a\2c3b\2c3c\2c3d\2c3e\2c3f\2c40\2c41\2c42\2c43\2c44\2c45\2c46\2c47\2c48\2c49\2c4a\2c4b\2c4c\2c4d\2c4e\2c4f\2c50\2c51\2c52\2c53\2c54\2c55\2c56\2c57\2c58\2c59\2c5a\2c5b\2c5c\2c5d\2c5e\2c5f\2c61\026b\1d7d\027d\2c68\2c6a\2c6c\0251\0271\0250\0252\2c73\2c76\023f\0240\2c81\2c83\2c85\2c87\2c89\2c8b\2c8d\2c8f\2c91\2c93\2c95\2c97\2c99\2c9b\2c9d\2c9f\2ca1\2ca3\2ca5\2ca7\2ca9\2cab\2cad\2caf\2cb1\2cb3\2cb5\2cb7\2cb9\2cbb\2cbd\2cbf\2cc1\2cc3\2cc5\2cc7\2cc9\2ccb\2ccd\2ccf\2cd1\2cd3\2cd5\2cd7\2cd9\2cdb\2cdd\2cdf\2ce1\2ce3\2cec\2cee\2cf3\a641\a643\a645\a647\a649\a64b\a64d\a64f\a651\a653\a655\a657\a659\a65b\a65d\a65f\a661\a663\a665\a667\a669\a66b\a66d\a681\a683\a685\a687\a689\a68b\a68d\a68f\a691\a693\a695\a697\a699\a69b\a723\a725\a727\a729\a72b\a72d\a72f\a733\a735\a737\a739\a73b\a73d\a73f\a741\a743\a745\a747\a749\a74b\a74d\a74f\a751\a753\a755\a757\a759\a75b\a75d\a75f\a761\a763\a765\a767\a769\a76b\a76d\a76f\a77a\a77c\1d79\a77f\a781\a783\a785\a787\a78c\0265\a791\a793\a797\a799\a79b\a79d\a79f\a7a1\a7a3\a7a5\a7a7\a7a9\0266\025c\0261\026c\026a\029e\0287\029d\ab53\a7b5\a7b7\a7b9\a7bb\a7bd\a7bf\a7c1\a7c3\a794\0282\1d8e\a7c8\a7ca\0264\a7cd\a7d1\a7d7\a7d9\a7db\019b\a7f6\ff41\ff42\ff43\ff44\ff45\ff46\ff47\ff48\ff49\ff4a\ff4b\ff4c\ff4d\ff4e\ff4f\ff50\ff51\ff52\ff53\ff54\ff55\ff56\ff57\ff58\ff59\ff5a\+010428\+010429\+01042a\+01042b\+01042c\+01042d\+01042e\+01042f\+010430\+010431\+010432\+010433\+010434\+010435\+010436\+010437\+010438\+010439\+01043a\+01043b\+01043c\+01043d\+01043e\+01043f\+010440\+010441\+010442\+010443\+010444\+010445\+010446\+010447\+010448\+010449\+01044a\+01044b\+01044c\+01044d\+01044e\+01044f\+0104d8\+0104d9\+0104da\+0104db\+0104dc\+0104dd\+0104de\+0104df\+0104e0\+0104e1\+0104e2\+0104e3\+0104e4\+0104e5\+0104e6\+0104e7\+0104e8\+0104e9\+0104ea\+0104eb\+0104ec\+0104ed\+0104ee\+0104ef\+0104f0\+0104f1\+0104f2\+0104f3\+0104f4\+0104f5\+0104f6\+0104f7\+0104f8\+0104f9\+0104fa\+0104fb\+010597\+010598\+010599\+01059a\+01059b\+01059c\+01059d\+01059e\+01059f\+0105a0\+0105a1\+0105a3\+0105a4\+0105a5\+0105a6\+0105a7\+0105a8\+0105a9\+0105aa\+0105ab\+0105ac\+0105ad\+0105ae\+0105af\+0105b0\+0105b1\+0105b3\+0105b4\+0105b5\+0105b6\+0105b7\+0105b8\+0105b9\+0105bb\+0105bc\+010cc0\+010cc1\+010cc2\+010cc3\+010cc4\+010cc5\+010cc6\+010cc7\+010cc8\+010cc9\+010cca\+010ccb\+010ccc\+010ccd\+010cce\+010ccf\+010cd0\+010cd1\+010cd2\+010cd3\+010cd4\+010cd5\+010cd6\+010cd7\+010cd8\+010cd9\+010cda\+010cdb\+010cdc\+010cdd\+010cde\+010cdf\+010ce0\+010ce1\+010ce2\+010ce3\+010ce4\+010ce5\+010ce6\+010ce7\+010ce8\+010ce9\+010cea\+010ceb\+010cec\+010ced\+010cee\+010cef\+010cf0\+010cf1\+010cf2\+010d70\+010d71\+010d72\+010d73\+010d74\+010d75\+010d76\+010d77\+010d78\+010d79\+010d7a\+010d7b\+010d7c\+010d7d\+010d7e\+010d7f\+010d80\+010d81\+010d82\+010d83\+010d84\+010d85\+0118c0\+0118c1\+0118c2\+0118c3\+0118c4\+0118c5\+0118c6\+0118c7\+0118c8\+0118c9\+0118ca\+0118cb\+0118cc\+0118cd\+0118ce\+0118cf\+0118d0\+0118d1\+0118d2\+0118d3\+0118d4\+0118d5\+0118d6\+0118d7\+0118d8\+0118d9\+0118da\+0118db\+0118dc\+0118dd\+0118de\+0118df\+016e60\+016e61\+016e62\+016e63\+016e64\+016e65\+016e66\+016e67\+016e68\+016e69\+016e6a\+016e6b\+016e6c\+016e6d\+016e6e\+016e6f\+016e70\+016e71\+016e72\+016e73\+016e74\+016e75\+016e76\+016e77\+016e78\+016e79\+016e7a\+016e7b\+016e7c\+016e7d\+016e7e\+016e7f\+01e922\+01e923\+01e924\+01e925\+01e926\+01e927\+01e928\+01e929\+01e92a\+01e92b\+01e92c\+01e92d\+01e92e\+01e92f\+01e930\+01e931\+01e932\+01e933\+01e934\+01e935\+01e936\+01e937\+01e938\+01e939\+01e93a\+01e93b\+01e93c\+01e93d\+01e93e\+01e93f\+01e940\+01e941\+01e942\+01e943') COLLATE "C" END;

-- The middle of some numbers, between the two in the middle where they are even; null of none.
CREATE FUNCTION wick.median(figures float8[]) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY f) FROM unnest(figures) AS f);

-- Whether an order (-1, 0, 1, null where two values do not compare) meets a sign: < -2, <= -1, = 0, >= 1, > 2.
CREATE FUNCTION wick.meets(sign int, o int) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE sign WHEN -2 THEN o < 0 WHEN -1 THEN o <= 0 WHEN 0 THEN o = 0 WHEN 1 THEN o >= 0 ELSE o > 0 END;

-- What the steps that follow keys through time need.
CREATE FUNCTION wick.micros(t timestamptz) RETURNS bigint LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (extract(epoch FROM t) * 1000000)::bigint;

-- A zero has no sign: what is divided or multiplied to one below zero is 0, as in memory.
CREATE FUNCTION wick.multiply(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND (abs(b) > 1e-150 OR b = 0) THEN a * b + 0
       ELSE wick.float(wick.decimal(a) * wick.decimal(b)) END;

CREATE FUNCTION wick.network(a inet, bits float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN bits = trunc(bits) AND bits >= 0 AND bits <= CASE WHEN family(a) = 4 THEN 32 ELSE 128 END
       THEN host(network(set_masklen(a, bits::int))) || '/' || bits::int::text END;

CREATE FUNCTION wick.number_text(x float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN x = trunc(x) AND abs(x) < 1e15 THEN x::bigint::text
       ELSE trim_scale(wick.decimal(x))::text END;

CREATE FUNCTION wick.order_of(a float8, b float8) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN a < b THEN -1 WHEN a = b THEN 0 WHEN a > b THEN 1 END;

CREATE FUNCTION wick.order_of(a text, b text) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN a < b COLLATE "C" THEN -1 WHEN a = b COLLATE "C" THEN 0 WHEN a > b COLLATE "C" THEN 1 END;

CREATE FUNCTION wick.remainder(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN b = 0 THEN NULL ELSE wick.float(mod(wick.decimal(a), wick.decimal(b))) END;

-- All occurrences, exactly as written. How long the outcome would be is reckoned before it is made.
CREATE FUNCTION wick.replace(t text, old text, fresh text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t IS NULL OR old IS NULL OR fresh IS NULL THEN NULL
       WHEN old = '' THEN t
       WHEN length(fresh) <= length(old) THEN replace(t, old, fresh)
       WHEN length(t) + (length(t) - length(replace(t, old, ''))) / length(old) * (length(fresh) - length(old))::bigint > 1000000
       THEN wick.tell_long()
       ELSE replace(t, old, fresh) END;

-- The conditions of rules over stored events: values as rules see them.

-- A value as text tests see it; objects are no text.
CREATE FUNCTION wick.rule_text(v jsonb) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN jsonb_typeof(v) <> 'object' THEN wick.any_text(v) END;

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

-- One minus the edit distance by the longer length, over the first 255 signs in small letters.
CREATE FUNCTION wick.similarity(a text, b text) RETURNS float8 LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  x text[] := string_to_array(substr(wick.lower(a), 1, 255), NULL);
  y text[] := string_to_array(substr(wick.lower(b), 1, 255), NULL);
  n int := COALESCE(array_length(x, 1), 0);
  m int := COALESCE(array_length(y, 1), 0);
  before int[]; now_row int[]; best int;
BEGIN
  IF a IS NULL OR b IS NULL THEN RETURN NULL; END IF;
  IF greatest(n, m) = 0 THEN RETURN 1; END IF;
  before := ARRAY(SELECT generate_series(0, m));
  FOR i IN 1..n LOOP
    now_row := ARRAY[i];
    FOR j IN 1..m LOOP
      best := before[j] + CASE WHEN x[i] = y[j] COLLATE "C" THEN 0 ELSE 1 END;
      now_row := now_row || least(best, before[j + 1] + 1, now_row[j] + 1);
    END LOOP;
    before := now_row;
  END LOOP;
  RETURN 1 - before[m + 1]::float8 / greatest(n, m);
END $$;

-- The elements of a list, or the value itself; nothing of null.
CREATE FUNCTION wick.singles(v jsonb) RETURNS SETOF jsonb LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE ROWS 3 AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN QUERY SELECT e.value FROM jsonb_array_elements(v) AS e(value) WHERE jsonb_typeof(e.value) <> 'null';
  ELSIF v IS NOT NULL AND jsonb_typeof(v) <> 'null' THEN
    RETURN NEXT v;
  END IF;
END $$;

CREATE FUNCTION wick.split(t text, separator text, part float8) RETURNS text LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  parts text[];
  n int;
BEGIN
  IF t IS NULL OR separator IS NULL OR part IS NULL OR part <> trunc(part) OR part = 0 OR abs(part) > 1000000 THEN RETURN NULL; END IF;
  parts := CASE WHEN separator = '' OR t = '' THEN ARRAY[t] ELSE string_to_array(t, separator) END;
  n := array_length(parts, 1);
  RETURN parts[CASE WHEN part > 0 THEN part::int ELSE n + 1 + part::int END];
END $$;

CREATE FUNCTION wick.subtract(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e307 AND abs(b) < 1e307 THEN a - b ELSE wick.float(wick.decimal(a) - wick.decimal(b)) END;

-- The median absolute deviation, comparable with a standard deviation of normal data.
CREATE FUNCTION wick.spread(figures float8[], usual float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  (SELECT wick.multiply(1.4826, percentile_cont(0.5) WITHIN GROUP (ORDER BY abs(wick.subtract(f, usual)))) FROM unnest(figures) AS f);

-- A start or count of nothing gives nothing.
CREATE FUNCTION wick.substr(t text, start float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN start IS NOT NULL THEN substr(t, least(greatest(1, trunc(start)), 1000000000)::int) END;

CREATE FUNCTION wick.substr(t text, start float8, n float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN start IS NOT NULL AND n IS NOT NULL
       THEN substr(t, least(greatest(1, trunc(start)), 1000000000)::int, least(greatest(0, trunc(n)), 1000000000)::int) END;

CREATE FUNCTION wick.tell_far() RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  RAISE NOTICE 'lamp: far-time';
  RETURN NULL;
END $$;

CREATE FUNCTION wick.texts(v jsonb) RETURNS text[] LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN ARRAY(SELECT jsonb_array_elements_text(v)) END;

-- A part of a time in UTC: minute, hour, day of the month, ISO week, month, year.
CREATE FUNCTION wick.time_part(v jsonb, part text) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  to_jsonb(date_part(part, wick.any_time(v) AT TIME ZONE 'UTC')::int);

-- ---- times --------------------------------------------------------------------------------------

-- ISO 8601 text in UTC, a fraction only if there is one.
CREATE FUNCTION wick.time_text(t timestamptz) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  to_char(t AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS')
  || CASE WHEN extract(microseconds FROM t)::bigint % 1000000 = 0 THEN ''
          ELSE '.' || rtrim(to_char(t AT TIME ZONE 'UTC', 'US'), '0') END
  || 'Z';

CREATE FUNCTION wick.time_values(v timestamptz[]) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN to_jsonb(ARRAY(SELECT wick.time_text(t) FROM unnest(v) AS t)) END;

-- ---- text ---------------------------------------------------------------------------------------

-- White space as the in-memory engine trims it.
CREATE FUNCTION wick.trim(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  btrim(t, E' \t\n\u000b\f\r\u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000\ufeff');

CREATE FUNCTION wick.upper(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN octet_length(t) = length(t) OR NOT t ~ '[\u00b5\u00e0-\u00f6\u00f8-\u00fe\u00ff\u0101\u0103\u0105\u0107\u0109\u010b\u010d\u010f\u0111\u0113\u0115\u0117\u0119\u011b\u011d\u011f\u0121\u0123\u0125\u0127\u0129\u012b\u012d\u012f\u0131\u0133\u0135\u0137\u013a\u013c\u013e\u0140\u0142\u0144\u0146\u0148\u014b\u014d\u014f\u0151\u0153\u0155\u0157\u0159\u015b\u015d\u015f\u0161\u0163\u0165\u0167\u0169\u016b\u016d\u016f\u0171\u0173\u0175\u0177\u017a\u017c\u017e\u017f\u0180\u0183\u0185\u0188\u018c\u0192\u0195\u0199\u019a\u019b\u019e\u01a1\u01a3\u01a5\u01a8\u01ad\u01b0\u01b4\u01b6\u01b9\u01bd\u01bf\u01c5\u01c6\u01c8\u01c9\u01cb\u01cc\u01ce\u01d0\u01d2\u01d4\u01d6\u01d8\u01da\u01dc\u01dd\u01df\u01e1\u01e3\u01e5\u01e7\u01e9\u01eb\u01ed\u01ef\u01f2\u01f3\u01f5\u01f9\u01fb\u01fd\u01ff\u0201\u0203\u0205\u0207\u0209\u020b\u020d\u020f\u0211\u0213\u0215\u0217\u0219\u021b\u021d\u021f\u0223\u0225\u0227\u0229\u022b\u022d\u022f\u0231\u0233\u023c\u023f-\u0240\u0242\u0247\u0249\u024b\u024d\u024f\u0250\u0251\u0252\u0253\u0254\u0256-\u0257\u0259\u025b\u025c\u0260\u0261\u0263\u0264\u0265\u0266\u0268\u0269\u026a\u026b\u026c\u026f\u0271\u0272\u0275\u027d\u0280\u0282\u0283\u0287\u0288\u0289\u028a-\u028b\u028c\u0292\u029d\u029e\u0345\u0371\u0373\u0377\u037b-\u037d\u03ac\u03ad-\u03af\u03b1-\u03c1\u03c2\u03c3-\u03cb\u03cc\u03cd-\u03ce\u03d0\u03d1\u03d5\u03d6\u03d7\u03d9\u03db\u03dd\u03df\u03e1\u03e3\u03e5\u03e7\u03e9\u03eb\u03ed\u03ef\u03f0\u03f1\u03f2\u03f3\u03f5\u03f8\u03fb\u0430-\u044f\u0450-\u045f\u0461\u0463\u0465\u0467\u0469\u046b\u046d\u046f\u0471\u0473\u0475\u0477\u0479\u047b\u047d\u047f\u0481\u048b\u048d\u048f\u0491\u0493\u0495\u0497\u0499\u049b\u049d\u049f\u04a1\u04a3\u04a5\u04a7\u04a9\u04ab\u04ad\u04af\u04b1\u04b3\u04b5\u04b7\u04b9\u04bb\u04bd\u04bf\u04c2\u04c4\u04c6\u04c8\u04ca\u04cc\u04ce\u04cf\u04d1\u04d3\u04d5\u04d7\u04d9\u04db\u04dd\u04df\u04e1\u04e3\u04e5\u04e7\u04e9\u04eb\u04ed\u04ef\u04f1\u04f3\u04f5\u04f7\u04f9\u04fb\u04fd\u04ff\u0501\u0503\u0505\u0507\u0509\u050b\u050d\u050f\u0511\u0513\u0515\u0517\u0519\u051b\u051d\u051f\u0521\u0523\u0525\u0527\u0529\u052b\u052d\u052f\u0561-\u0586\u10d0-\u10fa\u10fd-\u10ff\u13f8-\u13fd\u1c80\u1c81\u1c82\u1c83-\u1c84\u1c85\u1c86\u1c87\u1c88\u1c8a\u1d79\u1d7d\u1d8e\u1e01\u1e03\u1e05\u1e07\u1e09\u1e0b\u1e0d\u1e0f\u1e11\u1e13\u1e15\u1e17\u1e19\u1e1b\u1e1d\u1e1f\u1e21\u1e23\u1e25\u1e27\u1e29\u1e2b\u1e2d\u1e2f\u1e31\u1e33\u1e35\u1e37\u1e39\u1e3b\u1e3d\u1e3f\u1e41\u1e43\u1e45\u1e47\u1e49\u1e4b\u1e4d\u1e4f\u1e51\u1e53\u1e55\u1e57\u1e59\u1e5b\u1e5d\u1e5f\u1e61\u1e63\u1e65\u1e67\u1e69\u1e6b\u1e6d\u1e6f\u1e71\u1e73\u1e75\u1e77\u1e79\u1e7b\u1e7d\u1e7f\u1e81\u1e83\u1e85\u1e87\u1e89\u1e8b\u1e8d\u1e8f\u1e91\u1e93\u1e95\u1e9b\u1ea1\u1ea3\u1ea5\u1ea7\u1ea9\u1eab\u1ead\u1eaf\u1eb1\u1eb3\u1eb5\u1eb7\u1eb9\u1ebb\u1ebd\u1ebf\u1ec1\u1ec3\u1ec5\u1ec7\u1ec9\u1ecb\u1ecd\u1ecf\u1ed1\u1ed3\u1ed5\u1ed7\u1ed9\u1edb\u1edd\u1edf\u1ee1\u1ee3\u1ee5\u1ee7\u1ee9\u1eeb\u1eed\u1eef\u1ef1\u1ef3\u1ef5\u1ef7\u1ef9\u1efb\u1efd\u1eff\u1f00-\u1f07\u1f10-\u1f15\u1f20-\u1f27\u1f30-\u1f37\u1f40-\u1f45\u1f51\u1f53\u1f55\u1f57\u1f60-\u1f67\u1f70-\u1f71\u1f72-\u1f75\u1f76-\u1f77\u1f78-\u1f79\u1f7a-\u1f7b\u1f7c-\u1f7d\u1f80-\u1f87\u1f90-\u1f97\u1fa0-\u1fa7\u1fb0-\u1fb1\u1fb3\u1fbe\u1fc3\u1fd0-\u1fd1\u1fe0-\u1fe1\u1fe5\u1ff3\u214e\u2170-\u217f\u2184\u24d0-\u24e9\u2c30-\u2c5f\u2c61\u2c65\u2c66\u2c68\u2c6a\u2c6c\u2c73\u2c76\u2c81\u2c83\u2c85\u2c87\u2c89\u2c8b\u2c8d\u2c8f\u2c91\u2c93\u2c95\u2c97\u2c99\u2c9b\u2c9d\u2c9f\u2ca1\u2ca3\u2ca5\u2ca7\u2ca9\u2cab\u2cad\u2caf\u2cb1\u2cb3\u2cb5\u2cb7\u2cb9\u2cbb\u2cbd\u2cbf\u2cc1\u2cc3\u2cc5\u2cc7\u2cc9\u2ccb\u2ccd\u2ccf\u2cd1\u2cd3\u2cd5\u2cd7\u2cd9\u2cdb\u2cdd\u2cdf\u2ce1\u2ce3\u2cec\u2cee\u2cf3\u2d00-\u2d25\u2d27\u2d2d\ua641\ua643\ua645\ua647\ua649\ua64b\ua64d\ua64f\ua651\ua653\ua655\ua657\ua659\ua65b\ua65d\ua65f\ua661\ua663\ua665\ua667\ua669\ua66b\ua66d\ua681\ua683\ua685\ua687\ua689\ua68b\ua68d\ua68f\ua691\ua693\ua695\ua697\ua699\ua69b\ua723\ua725\ua727\ua729\ua72b\ua72d\ua72f\ua733\ua735\ua737\ua739\ua73b\ua73d\ua73f\ua741\ua743\ua745\ua747\ua749\ua74b\ua74d\ua74f\ua751\ua753\ua755\ua757\ua759\ua75b\ua75d\ua75f\ua761\ua763\ua765\ua767\ua769\ua76b\ua76d\ua76f\ua77a\ua77c\ua77f\ua781\ua783\ua785\ua787\ua78c\ua791\ua793\ua794\ua797\ua799\ua79b\ua79d\ua79f\ua7a1\ua7a3\ua7a5\ua7a7\ua7a9\ua7b5\ua7b7\ua7b9\ua7bb\ua7bd\ua7bf\ua7c1\ua7c3\ua7c8\ua7ca\ua7cd\ua7d1\ua7d7\ua7d9\ua7db\ua7f6\uab53\uab70-\uabbf\uff41-\uff5a\U00010428-\U0001044f\U000104d8-\U000104fb\U00010597-\U000105a1\U000105a3-\U000105b1\U000105b3-\U000105b9\U000105bb-\U000105bc\U00010cc0-\U00010cf2\U00010d70-\U00010d85\U000118c0-\U000118df\U00016e60-\U00016e7f\U0001e922-\U0001e943]' COLLATE "C" THEN upper(t COLLATE "C") COLLATE "C"
       ELSE translate(upper(t COLLATE "C"), U&'\00b5\00e0\00e1\00e2\00e3\00e4\00e5\00e6\00e7\00e8\00e9\00ea\00eb\00ec\00ed\00ee\00ef\00f0\00f1\00f2\00f3\00f4\00f5\00f6\00f8\00f9\00fa\00fb\00fc\00fd\00fe\00ff\0101\0103\0105\0107\0109\010b\010d\010f\0111\0113\0115\0117\0119\011b\011d\011f\0121\0123\0125\0127\0129\012b\012d\012f\0131\0133\0135\0137\013a\013c\013e\0140\0142\0144\0146\0148\014b\014d\014f\0151\0153\0155\0157\0159\015b\015d\015f\0161\0163\0165\0167\0169\016b\016d\016f\0171\0173\0175\0177\017a\017c\017e\017f\0180\0183\0185\0188\018c\0192\0195\0199\019a\019b\019e\01a1\01a3\01a5\01a8\01ad\01b0\01b4\01b6\01b9\01bd\01bf\01c5\01c6\01c8\01c9\01cb\01cc\01ce\01d0\01d2\01d4\01d6\01d8\01da\01dc\01dd\01df\01e1\01e3\01e5\01e7\01e9\01eb\01ed\01ef\01f2\01f3\01f5\01f9\01fb\01fd\01ff\0201\0203\0205\0207\0209\020b\020d\020f\0211\0213\0215\0217\0219\021b\021d\021f\0223\0225\0227\0229\022b\022d\022f\0231\0233\023c\023f\0240\0242\0247\0249\024b\024d\024f\0250\0251\0252\0253\0254\0256\0257\0259\025b\025c\0260\0261\0263\0264\0265\0266\0268\0269\026a\026b\026c\026f\0271\0272\0275\027d\0280\0282\0283\0287\0288\0289\028a\028b\028c\0292\029d\029e\0345\0371\0373\0377\037b\037c\037d\03ac\03ad\03ae\03af\03b1\03b2\03b3\03b4\03b5\03b6\03b7\03b8\03b9\03ba\03bb\03bc\03bd\03be\03bf\03c0\03c1\03c2\03c3\03c4\03c5\03c6\03c7\03c8\03c9\03ca\03cb\03cc\03cd\03ce\03d0\03d1\03d5\03d6\03d7\03d9\03db\03dd\03df\03e1\03e3\03e5\03e7\03e9\03eb\03ed\03ef\03f0\03f1\03f2\03f3\03f5\03f8\03fb\0430\0431\0432\0433\0434\0435\0436\0437\0438\0439\043a\043b\043c\043d\043e\043f\0440\0441\0442\0443\0444\0445\0446\0447\0448\0449\044a\044b\044c\044d\044e\044f\0450\0451\0452\0453\0454\0455\0456\0457\0458\0459\045a\045b\045c\045d\045e\045f\0461\0463\0465\0467\0469\046b\046d\046f\0471\0473\0475\0477\0479\047b\047d\047f\0481\048b\048d\048f\0491\0493\0495\0497\0499\049b\049d\049f\04a1\04a3\04a5\04a7\04a9\04ab\04ad\04af\04b1\04b3\04b5\04b7\04b9\04bb\04bd\04bf\04c2\04c4\04c6\04c8\04ca\04cc\04ce\04cf\04d1\04d3\04d5\04d7\04d9\04db\04dd\04df\04e1\04e3\04e5\04e7\04e9\04eb\04ed\04ef\04f1\04f3\04f5\04f7\04f9\04fb\04fd\04ff\0501\0503\0505\0507\0509\050b\050d\050f\0511\0513\0515\0517\0519\051b\051d\051f\0521\0523\0525\0527\0529\052b\052d\052f\0561\0562\0563\0564\0565\0566\0567\0568\0569\056a\056b\056c\056d\056e\056f\0570\0571\0572\0573\0574\0575\0576\0577\0578\0579\057a\057b\057c\057d\057e\057f\0580\0581\0582\0583\0584\0585\0586\10d0\10d1\10d2\10d3\10d4\10d5\10d6\10d7\10d8\10d9\10da\10db\10dc\10dd\10de\10df\10e0\10e1\10e2\10e3\10e4\10e5\10e6\10e7\10e8\10e9\10ea\10eb\10ec\10ed\10ee\10ef\10f0\10f1\10f2\10f3\10f4\10f5\10f6\10f7\10f8\10f9\10fa\10fd\10fe\10ff\13f8\13f9\13fa\13fb\13fc\13fd\1c80\1c81\1c82\1c83\1c84\1c85\1c86\1c87\1c88\1c8a\1d79\1d7d\1d8e\1e01\1e03\1e05\1e07\1e09\1e0b\1e0d\1e0f\1e11\1e13\1e15\1e17\1e19\1e1b\1e1d\1e1f\1e21\1e23\1e25\1e27\1e29\1e2b\1e2d\1e2f\1e31\1e33\1e35\1e37\1e39\1e3b\1e3d\1e3f\1e41\1e43\1e45\1e47\1e49\1e4b\1e4d\1e4f\1e51\1e53\1e55\1e57\1e59\1e5b\1e5d\1e5f\1e61\1e63\1e65\1e67\1e69\1e6b\1e6d\1e6f\1e71\1e73\1e75\1e77\1e79\1e7b\1e7d\1e7f\1e81\1e83\1e85\1e87\1e89\1e8b\1e8d\1e8f\1e91\1e93\1e95\1e9b\1ea1\1ea3\1ea5\1ea7\1ea9\1eab\1ead\1eaf\1eb1\1eb3\1eb5\1eb7\1eb9\1ebb\1ebd\1ebf\1ec1\1ec3\1ec5\1ec7\1ec9\1ecb\1ecd\1ecf\1ed1\1ed3\1ed5\1ed7\1ed9\1edb\1edd\1edf\1ee1\1ee3\1ee5\1ee7\1ee9\1eeb\1eed\1eef\1ef1\1ef3\1ef5\1ef7\1ef9\1efb\1efd\1eff\1f00\1f01\1f02\1f03\1f04\1f05\1f06\1f07\1f10\1f11\1f12\1f13\1f14\1f15\1f20\1f21\1f22\1f23\1f24\1f25\1f26\1f27\1f30\1f31\1f32\1f33\1f34\1f35\1f36\1f37\1f40\1f41\1f42\1f43\1f44\1f45\1f51\1f53\1f55\1f57\1f60\1f61\1f62\1f63\1f64\1f65\1f66\1f67\1f70\1f71\1f72\1f73\1f74\1f75\1f76\1f77\1f78\1f79\1f7a\1f7b\1f7c\1f7d\1f80\1f81\1f82\1f83\1f84\1f85\1f86\1f87\1f90\1f91\1f92\1f93\1f94\1f95\1f96\1f97\1fa0\1fa1\1fa2\1fa3\1fa4\1fa5\1fa6\1fa7\1fb0\1fb1\1fb3\1fbe\1fc3\1fd0\1fd1\1fe0\1fe1\1fe5\1ff3\214e\2170\2171\2172\2173\2174\2175\2176\2177\2178\2179\217a\217b\217c\217d\217e\217f\2184\24d0\24d1\24d2\24d3\24d4\24d5\24d6\24d7\24d8\24d9\24da\24db\24dc\24dd\24de\24df\24e0\24e1\24e2\24e3\24e4\24e5\24e6\24e7\24e8\24e9\2c30\2c31\2c32\2c33\2c34\2c35\2c36\2c37\2c38\2c39\2c3a\2c3b\2c3c\2c3d\2c3e\2c3f\2c40\2c41\2c42\2c43\2c44\2c45\2c46\2c47\2c48\2c49\2c4a\2c4b\2c4c\2c4d\2c4e\2c4f\2c50\2c51\2c52\2c53\2c54\2c55\2c56\2c57\2c58\2c59\2c5a\2c5b\2c5c\2c5d\2c5e\2c5f\2c61\2c65\2c66\2c68\2c6a\2c6c\2c73\2c76\2c81\2c83\2c85\2c87\2c89\2c8b\2c8d\2c8f\2c91\2c93\2c95\2c97\2c99\2c9b\2c9d\2c9f\2ca1\2ca3\2ca5\2ca7\2ca9\2cab\2cad\2caf\2cb1\2cb3\2cb5\2cb7\2cb9\2cbb\2cbd\2cbf\2cc1\2cc3\2cc5\2cc7\2cc9\2ccb\2ccd\2ccf\2cd1\2cd3\2cd5\2cd7\2cd9\2cdb\2cdd\2cdf\2ce1\2ce3\2cec\2cee\2cf3\2d00\2d01\2d02\2d03\2d04\2d05\2d06\2d07\2d08\2d09\2d0a\2d0b\2d0c\2d0d\2d0e\2d0f\2d10\2d11\2d12\2d13\2d14\2d15\2d16\2d17\2d18\2d19\2d1a\2d1b\2d1c\2d1d\2d1e\2d1f\2d20\2d21\2d22\2d23\2d24\2d25\2d27\2d2d\a641\a643\a645\a647\a649\a64b\a64d\a64f\a651\a653\a655\a657\a659\a65b\a65d\a65f\a661\a663\a665\a667\a669\a66b\a66d\a681\a683\a685\a687\a689\a68b\a68d\a68f\a691\a693\a695\a697\a699\a69b\a723\a725\a727\a729\a72b\a72d\a72f\a733\a735\a737\a739\a73b\a73d\a73f\a741\a743\a745\a747\a749\a74b\a74d\a74f\a751\a753\a755\a757\a759\a75b\a75d\a75f\a761\a763\a765\a767\a769\a76b\a76d\a76f\a77a\a77c\a77f\a781\a783\a785\a787\a78c\a791\a793\a794\a797\a799\a79b\a79d\a79f\a7a1\a7a3\a7a5\a7a7\a7a9\a7b5\a7b7\a7b9\a7bb\a7bd\a7bf\a7c1\a7c3\a7c8\a7ca\a7cd\a7d1\a7d7\a7d9\a7db\a7f6\ab53\ab70\ab71\ab72\ab73\ab74\ab75\ab76\ab77\ab78\ab79\ab7a\ab7b\ab7c\ab7d\ab7e\ab7f\ab80\ab81\ab82\ab83\ab84\ab85\ab86\ab87\ab88\ab89\ab8a\ab8b\ab8c\ab8d\ab8e\ab8f\ab90\ab91\ab92\ab93\ab94\ab95\ab96\ab97\ab98\ab99\ab9a\ab9b\ab9c\ab9d\ab9e\ab9f\aba0\aba1\aba2\aba3\aba4\aba5\aba6\aba7\aba8\aba9\abaa\abab\abac\abad\abae\abaf\abb0\abb1\abb2\abb3\abb4\abb5\abb6\abb7\abb8\abb9\abba\abbb\abbc\abbd\abbe\abbf\ff41\ff42\ff43\ff44\ff45\ff46\ff47\ff48\ff49\ff4a\ff4b\ff4c\ff4d\ff4e\ff4f\ff50\ff51\ff52\ff53\ff54\ff55\ff56\ff57\ff58\ff59\ff5a\+010428\+010429\+01042a\+01042b\+01042c\+01042d\+01042e\+01042f\+010430\+010431\+010432\+010433\+010434\+010435\+010436\+010437\+010438\+010439\+01043a\+01043b\+01043c\+01043d\+01043e\+01043f\+010440\+010441\+010442\+010443\+010444\+010445\+010446\+010447\+010448\+010449\+01044a\+01044b\+01044c\+01044d\+01044e\+01044f\+0104d8\+0104d9\+0104da\+0104db\+0104dc\+0104dd\+0104de\+0104df\+0104e0\+0104e1\+0104e2\+0104e3\+0104e4\+0104e5\+0104e6\+0104e7\+0104e8\+0104e9\+0104ea\+0104eb\+0104ec\+0104ed\+0104ee\+0104ef\+0104f0\+0104f1\+0104f2\+0104f3\+0104f4\+0104f5\+0104f6\+0104f7\+0104f8\+0104f9\+0104fa\+0104fb\+010597\+010598\+010599\+01059a\+01059b\+01059c\+01059d\+01059e\+01059f\+0105a0\+0105a1\+0105a3\+0105a4\+0105a5\+0105a6\+0105a7\+0105a8\+0105a9\+0105aa\+0105ab\+0105ac\+0105ad\+0105ae\+0105af\+0105b0\+0105b1\+0105b3\+0105b4\+0105b5\+0105b6\+0105b7\+0105b8\+0105b9\+0105bb\+0105bc\+010cc0\+010cc1\+010cc2\+010cc3\+010cc4\+010cc5\+010cc6\+010cc7\+010cc8\+010cc9\+010cca\+010ccb\+010ccc\+010ccd\+010cce\+010ccf\+010cd0\+010cd1\+010cd2\+010cd3\+010cd4\+010cd5\+010cd6\+010cd7\+010cd8\+010cd9\+010cda\+010cdb\+010cdc\+010cdd\+010cde\+010cdf\+010ce0\+010ce1\+010ce2\+010ce3\+010ce4\+010ce5\+010ce6\+010ce7\+010ce8\+010ce9\+010cea\+010ceb\+010cec\+010ced\+010cee\+010cef\+010cf0\+010cf1\+010cf2\+010d70\+010d71\+010d72\+010d73\+010d74\+010d75\+010d76\+010d77\+010d78\+010d79\+010d7a\+010d7b\+010d7c\+010d7d\+010d7e\+010d7f\+010d80\+010d81\+010d82\+010d83\+010d84\+010d85\+0118c0\+0118c1\+0118c2\+0118c3\+0118c4\+0118c5\+0118c6\+0118c7\+0118c8\+0118c9\+0118ca\+0118cb\+0118cc\+0118cd\+0118ce\+0118cf\+0118d0\+0118d1\+0118d2\+0118d3\+0118d4\+0118d5\+0118d6\+0118d7\+0118d8\+0118d9\+0118da\+0118db\+0118dc\+0118dd\+0118de\+0118df\+016e60\+016e61\+016e62\+016e63\+016e64\+016e65\+016e66\+016e67\+016e68\+016e69\+016e6a\+016e6b\+016e6c\+016e6d\+016e6e\+016e6f\+016e70\+016e71\+016e72\+016e73\+016e74\+016e75\+016e76\+016e77\+016e78\+016e79\+016e7a\+016e7b\+016e7c\+016e7d\+016e7e\+016e7f\+01e922\+01e923\+01e924\+01e925\+01e926\+01e927\+01e928\+01e929\+01e92a\+01e92b\+01e92c\+01e92d\+01e92e\+01e92f\+01e930\+01e931\+01e932\+01e933\+01e934\+01e935\+01e936\+01e937\+01e938\+01e939\+01e93a\+01e93b\+01e93c\+01e93d\+01e93e\+01e93f\+01e940\+01e941\+01e942\+01e943', U&'\039c\00c0\00c1\00c2\00c3\00c4\00c5\00c6\00c7\00c8\00c9\00ca\00cb\00cc\00cd\00ce\00cf\00d0\00d1\00d2\00d3\00d4\00d5\00d6\00d8\00d9\00da\00db\00dc\00dd\00de\0178\0100\0102\0104\0106\0108\010a\010c\010e\0110\0112\0114\0116\0118\011a\011c\011e\0120\0122\0124\0126\0128\012a\012c\012e\0049\0132\0134\0136\0139\013b\013d\013f\0141\0143\0145\0147\014a\014c\014e\0150\0152\0154\0156\0158\015a\015c\015e\0160\0162\0164\0166\0168\016a\016c\016e\0170\0172\0174\0176\0179\017b\017d\0053\0243\0182\0184\0187\018b\0191\01f6\0198\023d\a7dc\0220\01a0\01a2\01a4\01a7\01ac\01af\01b3\01b5\01b8\01bc\01f7\01c4\01c4\01c7\01c7\01ca\01ca\01cd\01cf\01d1\01d3\01d5\01d7\01d9\01db\018e\01de\01e0\01e2\01e4\01e6\01e8\01ea\01ec\01ee\01f1\01f1\01f4\01f8\01fa\01fc\01fe\0200\0202\0204\0206\0208\020a\020c\020e\0210\0212\0214\0216\0218\021a\021c\021e\0222\0224\0226\0228\022a\022c\022e\0230\0232\023b\2c7e\2c7f\0241\0246\0248\024a\024c\024e\2c6f\2c6d\2c70\0181\0186\0189\018a\018f\0190\a7ab\0193\a7ac\0194\a7cb\a78d\a7aa\0197\0196\a7ae\2c62\a7ad\019c\2c6e\019d\019f\2c64\01a6\a7c5\01a9\a7b1\01ae\0244\01b1\01b2\0245\01b7\a7b2\a7b0\0399\0370\0372\0376\03fd\03fe\03ff\0386\0388\0389\038a\0391\0392\0393\0394\0395\0396\0397\0398\0399\039a\039b\039c\039d\039e\039f\03a0\03a1\03a3\03a3\03a4\03a5\03a6\03a7\03a8\03a9\03aa\03ab\038c\038e\038f\0392\0398\03a6\03a0\03cf\03d8\03da\03dc\03de\03e0\03e2\03e4\03e6\03e8\03ea\03ec\03ee\039a\03a1\03f9\037f\0395\03f7\03fa\0410\0411\0412\0413\0414\0415\0416\0417\0418\0419\041a\041b\041c\041d\041e\041f\0420\0421\0422\0423\0424\0425\0426\0427\0428\0429\042a\042b\042c\042d\042e\042f\0400\0401\0402\0403\0404\0405\0406\0407\0408\0409\040a\040b\040c\040d\040e\040f\0460\0462\0464\0466\0468\046a\046c\046e\0470\0472\0474\0476\0478\047a\047c\047e\0480\048a\048c\048e\0490\0492\0494\0496\0498\049a\049c\049e\04a0\04a2\04a4\04a6\04a8\04aa\04ac\04ae\04b0\04b2\04b4\04b6\04b8\04ba\04bc\04be\04c1\04c3\04c5\04c7\04c9\04cb\04cd\04c0\04d0\04d2\04d4\04d6\04d8\04da\04dc\04de\04e0\04e2\04e4\04e6\04e8\04ea\04ec\04ee\04f0\04f2\04f4\04f6\04f8\04fa\04fc\04fe\0500\0502\0504\0506\0508\050a\050c\050e\0510\0512\0514\0516\0518\051a\051c\051e\0520\0522\0524\0526\0528\052a\052c\052e\0531\0532\0533\0534\0535\0536\0537\0538\0539\053a\053b\053c\053d\053e\053f\0540\0541\0542\0543\0544\0545\0546\0547\0548\0549\054a\054b\054c\054d\054e\054f\0550\0551\0552\0553\0554\0555\0556\1c90\1c91\1c92\1c93\1c94\1c95\1c96\1c97\1c98\1c99\1c9a\1c9b\1c9c\1c9d\1c9e\1c9f\1ca0\1ca1\1ca2\1ca3\1ca4\1ca5\1ca6\1ca7\1ca8\1ca9\1caa\1cab\1cac\1cad\1cae\1caf\1cb0\1cb1\1cb2\1cb3\1cb4\1cb5\1cb6\1cb7\1cb8\1cb9\1cba\1cbd\1cbe\1cbf\13f0\13f1\13f2\13f3\13f4\13f5\0412\0414\041e\0421\0422\0422\042a\0462\a64a\1c89\a77d\2c63\a7c6\1e00\1e02\1e04\1e06\1e08\1e0a\1e0c\1e0e\1e10\1e12\1e14\1e16\1e18\1e1a\1e1c\1e1e\1e20\1e22\1e24\1e26\1e28\1e2a\1e2c\1e2e\1e30\1e32\1e34\1e36\1e38\1e3a\1e3c\1e3e\1e40\1e42\1e44\1e46\1e48\1e4a\1e4c\1e4e\1e50\1e52\1e54\1e56\1e58\1e5a\1e5c\1e5e\1e60\1e62\1e64\1e66\1e68\1e6a\1e6c\1e6e\1e70\1e72\1e74\1e76\1e78\1e7a\1e7c\1e7e\1e80\1e82\1e84\1e86\1e88\1e8a\1e8c\1e8e\1e90\1e92\1e94\1e60\1ea0\1ea2\1ea4\1ea6\1ea8\1eaa\1eac\1eae\1eb0\1eb2\1eb4\1eb6\1eb8\1eba\1ebc\1ebe\1ec0\1ec2\1ec4\1ec6\1ec8\1eca\1ecc\1ece\1ed0\1ed2\1ed4\1ed6\1ed8\1eda\1edc\1ede\1ee0\1ee2\1ee4\1ee6\1ee8\1eea\1eec\1eee\1ef0\1ef2\1ef4\1ef6\1ef8\1efa\1efc\1efe\1f08\1f09\1f0a\1f0b\1f0c\1f0d\1f0e\1f0f\1f18\1f19\1f1a\1f1b\1f1c\1f1d\1f28\1f29\1f2a\1f2b\1f2c\1f2d\1f2e\1f2f\1f38\1f39\1f3a\1f3b\1f3c\1f3d\1f3e\1f3f\1f48\1f49\1f4a\1f4b\1f4c\1f4d\1f59\1f5b\1f5d\1f5f\1f68\1f69\1f6a\1f6b\1f6c\1f6d\1f6e\1f6f\1fba\1fbb\1fc8\1fc9\1fca\1fcb\1fda\1fdb\1ff8\1ff9\1fea\1feb\1ffa\1ffb\1f88\1f89\1f8a\1f8b\1f8c\1f8d\1f8e\1f8f\1f98\1f99\1f9a\1f9b\1f9c\1f9d\1f9e\1f9f\1fa8\1fa9\1faa\1fab\1fac\1fad\1fae\1faf\1fb8\1fb9\1fbc\0399\1fcc\1fd8\1fd9\1fe8\1fe9\1fec\1ffc\2132\2160\2161\2162\2163\2164\2165\2166\2167\2168\2169\216a\216b\216c\216d\216e\216f\2183\24b6\24b7\24b8\24b9\24ba\24bb\24bc\24bd\24be\24bf\24c0\24c1\24c2\24c3\24c4\24c5\24c6\24c7\24c8\24c9\24ca\24cb\24cc\24cd\24ce\24cf\2c00\2c01\2c02\2c03\2c04\2c05\2c06\2c07\2c08\2c09\2c0a\2c0b\2c0c\2c0d\2c0e\2c0f\2c10\2c11\2c12\2c13\2c14\2c15\2c16\2c17\2c18\2c19\2c1a\2c1b\2c1c\2c1d\2c1e\2c1f\2c20\2c21\2c22\2c23\2c24\2c25\2c26\2c27\2c28\2c29\2c2a\2c2b\2c2c\2c2d\2c2e\2c2f\2c60\023a\023e\2c67\2c69\2c6b\2c72\2c75\2c80\2c82\2c84\2c86\2c88\2c8a\2c8c\2c8e\2c90\2c92\2c94\2c96\2c98\2c9a\2c9c\2c9e\2ca0\2ca2\2ca4\2ca6\2ca8\2caa\2cac\2cae\2cb0\2cb2\2cb4\2cb6\2cb8\2cba\2cbc\2cbe\2cc0\2cc2\2cc4\2cc6\2cc8\2cca\2ccc\2cce\2cd0\2cd2\2cd4\2cd6\2cd8\2cda\2cdc\2cde\2ce0\2ce2\2ceb\2ced\2cf2\10a0\10a1\10a2\10a3\10a4\10a5\10a6\10a7\10a8\10a9\10aa\10ab\10ac\10ad\10ae\10af\10b0\10b1\10b2\10b3\10b4\10b5\10b6\10b7\10b8\10b9\10ba\10bb\10bc\10bd\10be\10bf\10c0\10c1\10c2\10c3\10c4\10c5\10c7\10cd\a640\a642\a644\a646\a648\a64a\a64c\a64e\a650\a652\a654\a656\a658\a65a\a65c\a65e\a660\a662\a664\a666\a668\a66a\a66c\a680\a682\a684\a686\a688\a68a\a68c\a68e\a690\a692\a694\a696\a698\a69a\a722\a724\a726\a728\a72a\a72c\a72e\a732\a734\a736\a738\a73a\a73c\a73e\a740\a742\a744\a746\a748\a74a\a74c\a74e\a750\a752\a754\a756\a758\a75a\a75c\a75e\a760\a762\a764\a766\a768\a76a\a76c\a76e\a779\a77b\a77e\a780\a782\a784\a786\a78b\a790\a792\a7c4\a796\a798\a79a\a79c\a79e\a7a0\a7a2\a7a4\a7a6\a7a8\a7b4\a7b6\a7b8\a7ba\a7bc\a7be\a7c0\a7c2\a7c7\a7c9\a7cc\a7d0\a7d6\a7d8\a7da\a7f5\a7b3\13a0\13a1\13a2\13a3\13a4\13a5\13a6\13a7\13a8\13a9\13aa\13ab\13ac\13ad\13ae\13af\13b0\13b1\13b2\13b3\13b4\13b5\13b6\13b7\13b8\13b9\13ba\13bb\13bc\13bd\13be\13bf\13c0\13c1\13c2\13c3\13c4\13c5\13c6\13c7\13c8\13c9\13ca\13cb\13cc\13cd\13ce\13cf\13d0\13d1\13d2\13d3\13d4\13d5\13d6\13d7\13d8\13d9\13da\13db\13dc\13dd\13de\13df\13e0\13e1\13e2\13e3\13e4\13e5\13e6\13e7\13e8\13e9\13ea\13eb\13ec\13ed\13ee\13ef\ff21\ff22\ff23\ff24\ff25\ff26\ff27\ff28\ff29\ff2a\ff2b\ff2c\ff2d\ff2e\ff2f\ff30\ff31\ff32\ff33\ff34\ff35\ff36\ff37\ff38\ff39\ff3a\+010400\+010401\+010402\+010403\+010404\+010405\+010406\+010407\+010408\+010409\+01040a\+01040b\+01040c\+01040d\+01040e\+01040f\+010410\+010411\+010412\+010413\+010414\+010415\+010416\+010417\+010418\+010419\+01041a\+01041b\+01041c\+01041d\+01041e\+01041f\+010420\+010421\+010422\+010423\+010424\+010425\+010426\+010427\+0104b0\+0104b1\+0104b2\+0104b3\+0104b4\+0104b5\+0104b6\+0104b7\+0104b8\+0104b9\+0104ba\+0104bb\+0104bc\+0104bd\+0104be\+0104bf\+0104c0\+0104c1\+0104c2\+0104c3\+0104c4\+0104c5\+0104c6\+0104c7\+0104c8\+0104c9\+0104ca\+0104cb\+0104cc\+0104cd\+0104ce\+0104cf\+0104d0\+0104d1\+0104d2\+0104d3\+010570\+010571\+010572\+010573\+010574\+010575\+010576\+010577\+010578\+010579\+01057a\+01057c\+01057d\+01057e\+01057f\+010580\+010581\+010582\+010583\+010584\+010585\+010586\+010587\+010588\+010589\+01058a\+01058c\+01058d\+01058e\+01058f\+010590\+010591\+010592\+010594\+010595\+010c80\+010c81\+010c82\+010c83\+010c84\+010c85\+010c86\+010c87\+010c88\+010c89\+010c8a\+010c8b\+010c8c\+010c8d\+010c8e\+010c8f\+010c90\+010c91\+010c92\+010c93\+010c94\+010c95\+010c96\+010c97\+010c98\+010c99\+010c9a\+010c9b\+010c9c\+010c9d\+010c9e\+010c9f\+010ca0\+010ca1\+010ca2\+010ca3\+010ca4\+010ca5\+010ca6\+010ca7\+010ca8\+010ca9\+010caa\+010cab\+010cac\+010cad\+010cae\+010caf\+010cb0\+010cb1\+010cb2\+010d50\+010d51\+010d52\+010d53\+010d54\+010d55\+010d56\+010d57\+010d58\+010d59\+010d5a\+010d5b\+010d5c\+010d5d\+010d5e\+010d5f\+010d60\+010d61\+010d62\+010d63\+010d64\+010d65\+0118a0\+0118a1\+0118a2\+0118a3\+0118a4\+0118a5\+0118a6\+0118a7\+0118a8\+0118a9\+0118aa\+0118ab\+0118ac\+0118ad\+0118ae\+0118af\+0118b0\+0118b1\+0118b2\+0118b3\+0118b4\+0118b5\+0118b6\+0118b7\+0118b8\+0118b9\+0118ba\+0118bb\+0118bc\+0118bd\+0118be\+0118bf\+016e40\+016e41\+016e42\+016e43\+016e44\+016e45\+016e46\+016e47\+016e48\+016e49\+016e4a\+016e4b\+016e4c\+016e4d\+016e4e\+016e4f\+016e50\+016e51\+016e52\+016e53\+016e54\+016e55\+016e56\+016e57\+016e58\+016e59\+016e5a\+016e5b\+016e5c\+016e5d\+016e5e\+016e5f\+01e900\+01e901\+01e902\+01e903\+01e904\+01e905\+01e906\+01e907\+01e908\+01e909\+01e90a\+01e90b\+01e90c\+01e90d\+01e90e\+01e90f\+01e910\+01e911\+01e912\+01e913\+01e914\+01e915\+01e916\+01e917\+01e918\+01e919\+01e91a\+01e91b\+01e91c\+01e91d\+01e91e\+01e91f\+01e920\+01e921') COLLATE "C" END;
