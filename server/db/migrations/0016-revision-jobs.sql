-- Making a revision: one at a time for each exercise, with how far it is and how it ended.
CREATE TABLE revision_jobs (
  exercise_id INTEGER PRIMARY KEY REFERENCES exercises (id) ON DELETE CASCADE,
  document_json TEXT NOT NULL,
  begun_by INTEGER NOT NULL REFERENCES users (id),
  begun_at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('running', 'done', 'failed')),
  -- Parts that are built, of how many: each variant of each stage.
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  revision INTEGER,
  problem_code TEXT,
  problem_message TEXT,
  CHECK ((state = 'done') = (revision IS NOT NULL)),
  CHECK ((state = 'failed') = (problem_code IS NOT NULL))
) STRICT;
