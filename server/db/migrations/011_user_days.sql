-- Events of each user by the day, like the counts by the hour: partial counts, one row a batch and key.
CREATE TABLE user_days (
  day timestamptz NOT NULL,
  source text COLLATE "C" NOT NULL,
  "user" text COLLATE "C" NOT NULL,
  events int NOT NULL
);
CREATE INDEX user_days_day ON user_days USING brin (day);
INSERT INTO user_days
  SELECT date_trunc('day', "time", 'UTC'), source, "user", count(*) FROM events WHERE "user" IS NOT NULL GROUP BY 1, 2, 3;

-- What hunts may be answered from instead of events: rows of a stretch of time and how many events they stand for. A
-- count may be negative; only sums mean anything. Events without a value are what is left of all of them.
CREATE VIEW wick.kind_counts AS
  SELECT hour AS "time", source, kind::text COLLATE "C" AS kind, outcome::text COLLATE "C" AS outcome, events FROM event_hours;
CREATE VIEW wick.operation_counts AS
  SELECT hour AS "time", source, operation, events FROM operation_hours
  UNION ALL SELECT hour, source, NULL, events FROM event_hours
  UNION ALL SELECT hour, source, NULL, -events FROM operation_hours;
CREATE VIEW wick.user_counts AS
  SELECT day AS "time", source, "user", events FROM user_days
  UNION ALL SELECT date_trunc('day', hour, 'UTC'), source, NULL, events FROM event_hours
  UNION ALL SELECT day, source, NULL, -events FROM user_days;
