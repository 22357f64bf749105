-- Events without an operation or user are counted as such, so that counts are read once and not taken from each other.
ALTER TABLE operation_hours ALTER COLUMN operation DROP NOT NULL;
INSERT INTO operation_hours
  SELECT hour, source, NULL, sum(events)
    FROM (SELECT hour, source, events FROM event_hours UNION ALL SELECT hour, source, -events FROM operation_hours) AS rest
   GROUP BY 1, 2 HAVING sum(events) <> 0;
CREATE OR REPLACE VIEW wick.operation_counts AS
  SELECT hour AS "time", source, operation, events FROM operation_hours;

ALTER TABLE user_days ALTER COLUMN "user" DROP NOT NULL;
INSERT INTO user_days
  SELECT day, source, NULL, sum(events)
    FROM (SELECT date_trunc('day', hour, 'UTC') AS day, source, events FROM event_hours
          UNION ALL SELECT day, source, -events FROM user_days) AS rest
   GROUP BY 1, 2 HAVING sum(events) <> 0;
CREATE OR REPLACE VIEW wick.user_counts AS
  SELECT day AS "time", source, "user", events FROM user_days;
