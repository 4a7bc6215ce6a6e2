-- Up to when somebody has looked at what is new, and up to when it was mailed.
ALTER TABLE users ADD COLUMN news_seen_at TEXT;
ALTER TABLE users ADD COLUMN mailed_until TEXT;
ALTER TABLE users ADD COLUMN wants_mail INTEGER NOT NULL DEFAULT 1 CHECK (wants_mail IN (0, 1));
-- Who was there before is told what comes from now on.
UPDATE users SET mailed_until = strftime('%Y-%m-%dT%H:%M:%fZ', 'now');

-- When the due time was changed last.
ALTER TABLE assignments ADD COLUMN due_changed_at TEXT;

CREATE INDEX replies_by_answer ON replies (answered_at) WHERE answered_at IS NOT NULL;
