-- The zone that times of a course are given in, such as "Europe/London"; the server puts its own where there is none.
ALTER TABLE courses ADD COLUMN time_zone TEXT;
