-- Exercises that are put away, and the words that an instructor sorts them by.
ALTER TABLE exercises ADD COLUMN archived_at TEXT;
ALTER TABLE exercises ADD COLUMN tags_json TEXT NOT NULL DEFAULT '[]';
