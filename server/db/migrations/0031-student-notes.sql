-- What staff notes of a student of a course, for each other.
CREATE TABLE student_notes (
  id INTEGER PRIMARY KEY,
  course_id INTEGER NOT NULL REFERENCES courses (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  text TEXT NOT NULL CHECK (text <> ''),
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL
) STRICT;
CREATE INDEX student_notes_of_student ON student_notes (student_id, course_id);
