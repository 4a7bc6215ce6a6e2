-- What is made of each variant of a revision; `variant` is its place in the document's list, from 0.
CREATE TABLE revision_variants (
  revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id) ON DELETE CASCADE,
  variant INTEGER NOT NULL,
  reference_sha256 TEXT NOT NULL REFERENCES files (sha256),
  sheet_sha256 TEXT NOT NULL REFERENCES files (sha256),
  PRIMARY KEY (revision_id, variant)
) STRICT, WITHOUT ROWID;

-- Which variant a student has in an assignment; once given, it stays.
CREATE TABLE assigned_variants (
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  variant INTEGER NOT NULL,
  PRIMARY KEY (assignment_id, student_id)
) STRICT, WITHOUT ROWID;
