-- Why the last try failed, how many there were, and when the next one is due.
ALTER TABLE atlases ADD COLUMN reason TEXT;
ALTER TABLE atlases ADD COLUMN tries INTEGER NOT NULL DEFAULT 0;
ALTER TABLE atlases ADD COLUMN retry_at TEXT;
-- Failures of earlier programs are tried again at once.
UPDATE atlases SET state = 'waiting' WHERE state = 'failed';
ALTER TABLE reports ADD COLUMN diagnosis_tries INTEGER NOT NULL DEFAULT 0;
ALTER TABLE reports ADD COLUMN diagnosis_retry_at TEXT;
