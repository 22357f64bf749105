-- Counts of a stretch of time are asked for with every hunt. Summing them up again moves rows of one hour to the end of
-- the table, so that an index over blocks finds half of it; a tree finds the rows.
DROP INDEX event_hours_hour, operation_hours_hour, lag_hours_hour, user_days_day;
CREATE INDEX event_hours_hour ON event_hours (hour);
CREATE INDEX operation_hours_hour ON operation_hours (hour);
CREATE INDEX lag_hours_hour ON lag_hours (hour);
CREATE INDEX user_days_day ON user_days (day);
