-- What hunts in SQL call. Each function answers as its twin in memory does, and none of them fails on any
-- value: what cannot be read or reckoned is null. All are immutable and safe in parallel workers.
CREATE SCHEMA wick;

-- ---- text ---------------------------------------------------------------------------------------

-- White space as the in-memory engine trims it.
CREATE FUNCTION wick.trim(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  btrim(t, E' \t\n\u000b\f\r\u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000\ufeff');

-- Full Unicode mapping for what is not ASCII; the plain way is many times quicker and serves the rest.
CREATE FUNCTION wick.lower(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN octet_length(t) = length(t) THEN lower(t COLLATE "C") COLLATE "C"
       ELSE lower(t COLLATE "und-x-icu") COLLATE "C" END;

CREATE FUNCTION wick.upper(t text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN octet_length(t) = length(t) THEN upper(t COLLATE "C") COLLATE "C"
       ELSE upper(t COLLATE "und-x-icu") COLLATE "C" END;

-- ---- numbers ------------------------------------------------------------------------------------

-- An exact decimal of the shortest spelling of a float.
CREATE FUNCTION wick.decimal(x float8) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  x::text::numeric;

-- The nearest float; null beyond 64 bits, 0 below their normal range.
CREATE FUNCTION wick.float(n numeric) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(n) > 1.7976931348623157e308 THEN NULL
       WHEN abs(n) < 2.2250738585072014e-308 THEN 0
       ELSE n::float8 END;

CREATE FUNCTION wick.number_text(x float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN x = trunc(x) AND abs(x) < 1e15 THEN x::bigint::text
       ELSE trim_scale(x::text::numeric)::text END;

-- A plain decimal with optional sign and outer white space.
CREATE FUNCTION wick.number(t text) RETURNS float8 LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  s text := wick.trim(t);
BEGIN
  IF length(s) > 400 OR s !~ '^[+-]?([0-9]+(\.[0-9]*)?|\.[0-9]+)$' THEN RETURN NULL; END IF;
  RETURN wick.float(s::numeric);
END $$;

-- Arithmetic that cannot overflow: the plain way wherever neither side is extreme.
CREATE FUNCTION wick.add(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e307 AND abs(b) < 1e307 THEN a + b ELSE wick.float(wick.decimal(a) + wick.decimal(b)) END;

CREATE FUNCTION wick.subtract(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e307 AND abs(b) < 1e307 THEN a - b ELSE wick.float(wick.decimal(a) - wick.decimal(b)) END;

CREATE FUNCTION wick.multiply(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND (abs(b) > 1e-150 OR b = 0) THEN a * b
       ELSE wick.float(wick.decimal(a) * wick.decimal(b)) END;

CREATE FUNCTION wick.divide(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN b = 0 THEN NULL
       WHEN abs(a) < 1e150 AND abs(b) < 1e150 AND (abs(a) > 1e-150 OR a = 0) AND abs(b) > 1e-150 THEN a / b
       ELSE wick.float(wick.decimal(a) / wick.decimal(b)) END;

CREATE FUNCTION wick.remainder(a float8, b float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN b = 0 THEN NULL ELSE wick.float(mod(wick.decimal(a), wick.decimal(b))) END;

-- Halves away from zero, in decimal.
CREATE FUNCTION wick.round(x float8, places float8) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN places <> trunc(places) OR places < -20 OR places > 20 THEN NULL
       ELSE wick.float(round(wick.decimal(x), places::int)) END;

-- Standard deviation of a sample from its exact sums; null under two.
CREATE FUNCTION wick.deviation(n bigint, total numeric, squares numeric) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN n < 2 THEN NULL
       ELSE sqrt(greatest(0, wick.float(n * squares - total * total)) / (n::float8 * (n - 1)::float8)) END;

-- ---- times --------------------------------------------------------------------------------------

-- ISO 8601 text in UTC, a fraction only if there is one.
CREATE FUNCTION wick.time_text(t timestamptz) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  to_char(t AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS')
  || CASE WHEN extract(microseconds FROM t)::bigint % 1000000 = 0 THEN ''
          ELSE '.' || rtrim(to_char(t AT TIME ZONE 'UTC', 'US'), '0') END
  || 'Z';

-- ISO 8601: a date, or date and time to the minute, second or fraction, zone or UTC.
CREATE FUNCTION wick.instant(t text) RETURNS timestamptz LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
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

-- The start of a bucket, counted from Monday 1970-01-05 00:00 UTC.
CREATE FUNCTION wick.bucket(t timestamptz, micros bigint) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t >= '1970-01-05 00:00:00+00'
       THEN date_bin(make_interval(secs => micros / 1000000), t, '1970-01-05 00:00:00+00')
       ELSE '1970-01-05 00:00:00+00'::timestamptz
         + floor(extract(epoch FROM t - '1970-01-05 00:00:00+00') * 1000000 / micros)::bigint * make_interval(secs => micros / 1000000) END;

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

CREATE FUNCTION wick.network(a inet, bits float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN bits = trunc(bits) AND bits >= 0 AND bits <= CASE WHEN family(a) = 4 THEN 32 ELSE 128 END
       THEN host(network(set_masklen(a, bits::int))) || '/' || bits::int::text END;

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

CREATE FUNCTION wick.any_string(v jsonb) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'string' THEN v #>> '{}' END;

CREATE FUNCTION wick.any_number(v jsonb) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'number' THEN wick.float((v #>> '{}')::numeric) END;

CREATE FUNCTION wick.any_read_number(v jsonb) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE jsonb_typeof(v) WHEN 'number' THEN wick.float((v #>> '{}')::numeric)
                       WHEN 'string' THEN wick.number(v #>> '{}') END;

-- Where a value of mixed type stands in an order: numbers, text, the rest.
CREATE FUNCTION wick.rank(v jsonb) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NULL OR jsonb_typeof(v) = 'null' THEN NULL
       WHEN jsonb_typeof(v) = 'number' THEN 0 WHEN jsonb_typeof(v) = 'string' THEN 1 ELSE 2 END;

-- The elements of a list, or the value itself; nothing of null.
CREATE FUNCTION wick.singles(v jsonb) RETURNS SETOF jsonb LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE ROWS 3 AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN QUERY SELECT e.value FROM jsonb_array_elements(v) AS e(value) WHERE jsonb_typeof(e.value) <> 'null';
  ELSIF v IS NOT NULL AND jsonb_typeof(v) <> 'null' THEN
    RETURN NEXT v;
  END IF;
END $$;

-- Whether an order (-1, 0, 1, null where two values do not compare) meets a sign: < -2, <= -1, = 0, >= 1, > 2.
CREATE FUNCTION wick.meets(sign int, o int) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE sign WHEN -2 THEN o < 0 WHEN -1 THEN o <= 0 WHEN 0 THEN o = 0 WHEN 1 THEN o >= 0 ELSE o > 0 END;

CREATE FUNCTION wick.order_of(a float8, b float8) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN a < b THEN -1 WHEN a = b THEN 0 WHEN a > b THEN 1 END;

CREATE FUNCTION wick.order_of(a text, b text) RETURNS int LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN a < b COLLATE "C" THEN -1 WHEN a = b COLLATE "C" THEN 0 WHEN a > b COLLATE "C" THEN 1 END;

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

CREATE FUNCTION wick.holds(sign int, v jsonb, x float8) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, x));
  END IF;
  RETURN wick.meets(sign, wick.order_of(wick.any_read_number(v), x));
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

CREATE FUNCTION wick.holds(sign int, v jsonb, t boolean) RETURNS boolean LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF jsonb_typeof(v) = 'array' THEN
    RETURN EXISTS (SELECT 1 FROM jsonb_array_elements(v) e WHERE jsonb_typeof(e) <> 'array' AND wick.holds(sign, e, t));
  END IF;
  -- Truth values are equal or do not compare.
  RETURN sign IN (-1, 0, 1) AND jsonb_typeof(v) = 'boolean' AND v = to_jsonb(t);
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

-- True when any value (not key) holds the needle, which is given in small ASCII letters.
CREATE FUNCTION wick.json_has(v jsonb, needle text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  EXISTS (SELECT 1 FROM jsonb_path_query(v, 'strict $.**') AS e
          WHERE jsonb_typeof(e) IN ('string', 'number', 'boolean')
            AND strpos(lower(wick.any_text(e) COLLATE "C") COLLATE "C", needle) > 0);

CREATE FUNCTION wick.texts(v jsonb) RETURNS text[] LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN ARRAY(SELECT jsonb_array_elements_text(v)) END;

-- The first hundred of distinct values, numbers before texts before the rest.
CREATE FUNCTION wick.any_values(v jsonb[]) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN
    (SELECT jsonb_agg(f.e ORDER BY wick.rank(f.e), wick.any_number(f.e), wick.any_text(f.e) COLLATE "C")
     FROM (SELECT e FROM unnest(v) AS e ORDER BY wick.rank(e), wick.any_number(e), wick.any_text(e) COLLATE "C" LIMIT 100) AS f) END;

CREATE FUNCTION wick.time_values(v timestamptz[]) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN v IS NOT NULL THEN to_jsonb(ARRAY(SELECT wick.time_text(t) FROM unnest(v) AS t)) END;

-- ---- functions of the language ------------------------------------------------------------------

-- Positions count code points from 1; lower starts mean 1.
CREATE FUNCTION wick.substr(t text, start float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  substr(t, least(greatest(1, trunc(start)), 1000000000)::int);

CREATE FUNCTION wick.substr(t text, start float8, n float8) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  substr(t, least(greatest(1, trunc(start)), 1000000000)::int, least(greatest(0, trunc(n)), 1000000000)::int);

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

-- Shannon entropy in bits per code point, to nine decimals.
CREATE FUNCTION wick.entropy(t text) RETURNS float8 LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN
  CASE WHEN t IS NULL THEN NULL WHEN t = '' THEN 0 ELSE
    (SELECT wick.round(COALESCE(-sum(c.n / length(t) * (ln(c.n / length(t)) / ln(2.0::float8))), 0), 9)
     FROM (SELECT count(*)::float8 AS n FROM unnest(string_to_array(t, NULL)) AS s GROUP BY s COLLATE "C") AS c) END;

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
