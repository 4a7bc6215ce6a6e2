-- How the grades of a course come about: groups of assignments and a scale of letters; null where all count alike.
ALTER TABLE courses ADD COLUMN grading_json TEXT;
-- The group of that course which an assignment counts in; without one, the first.
ALTER TABLE assignments ADD COLUMN grade_group TEXT;

-- With which somebody's calendar program reads their dates, without signing in; null until it is asked for.
ALTER TABLE users ADD COLUMN calendar_key TEXT;
CREATE UNIQUE INDEX users_by_calendar_key ON users (calendar_key) WHERE calendar_key IS NOT NULL;
