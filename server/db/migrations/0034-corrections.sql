-- An assignment that got a corrected revision after it was issued, with what its attempts had before.
CREATE TABLE corrections (
  id INTEGER PRIMARY KEY,
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  from_revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id),
  to_revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id),
  reason TEXT NOT NULL CHECK (reason <> ''),
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL
) STRICT;
CREATE INDEX corrections_of_assignment ON corrections (assignment_id);
CREATE TABLE corrected_attempts (
  correction_id INTEGER NOT NULL REFERENCES corrections (id) ON DELETE CASCADE,
  attempt_id INTEGER NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
  score_before REAL NOT NULL,
  -- Null while it waits, and where it could not be measured anew.
  measured_at TEXT,
  PRIMARY KEY (correction_id, attempt_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX corrected_attempts_by_attempt ON corrected_attempts (attempt_id);
