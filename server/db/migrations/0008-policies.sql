-- How an assignment is scored, where it is not as its exercise says.
ALTER TABLE assignments ADD COLUMN policy_json TEXT;

-- What a score was made with, so that it can be traced; empty for what earlier programs scored.
ALTER TABLE reports ADD COLUMN policy_json TEXT;
ALTER TABLE reports ADD COLUMN program TEXT NOT NULL DEFAULT '';
