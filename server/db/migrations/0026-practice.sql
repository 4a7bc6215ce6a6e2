-- What students may use while they work on an assignment, and what they keep between reading and handing in.
ALTER TABLE assignments ADD COLUMN aids_json TEXT NOT NULL DEFAULT '{"building":"none","round":"offered","sizes":"link","reading":"all"}';

CREATE TABLE workings (
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  stage INTEGER NOT NULL,
  kind TEXT NOT NULL,
  -- Counts the saves, so that two windows do not overwrite each other.
  version INTEGER NOT NULL,
  document_json TEXT NOT NULL,
  updated_at TEXT NOT NULL,
  PRIMARY KEY (assignment_id, student_id, stage, kind)
) STRICT, WITHOUT ROWID;
CREATE INDEX workings_of_student ON workings (student_id);
