-- An exercise may exist as a draft before it has a revision; the draft is what the editor works on.
CREATE TABLE exercise_drafts (
  exercise_id INTEGER PRIMARY KEY REFERENCES exercises (id) ON DELETE CASCADE,
  -- Counts every save, so that two browsers notice each other.
  version INTEGER NOT NULL,
  document_json TEXT NOT NULL,
  updated_at TEXT NOT NULL,
  updated_by INTEGER REFERENCES users (id)
) STRICT;
