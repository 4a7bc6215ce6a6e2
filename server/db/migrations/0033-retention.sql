-- Until when the work of students is kept, a day; null for as long as nobody erases it.
ALTER TABLE courses ADD COLUMN keep_until TEXT;
-- When it was erased after that day.
ALTER TABLE courses ADD COLUMN forgotten_at TEXT;
