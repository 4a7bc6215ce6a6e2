-- What students ask about a sheet before they hand in, and what staff corrects on it.
CREATE TABLE questions (
  id INTEGER PRIMARY KEY,
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  -- Null once the person is erased and the answer was for all.
  student_id INTEGER REFERENCES users (id) ON DELETE SET NULL,
  stage INTEGER NOT NULL,
  -- The sheet that the student had, and the place on it; null for a question about no place.
  sheet_sha256 TEXT NOT NULL,
  place_json TEXT,
  text TEXT NOT NULL CHECK (text <> ''),
  asked_at TEXT NOT NULL,
  answer TEXT,
  answered_by INTEGER REFERENCES users (id),
  answered_at TEXT,
  to_all INTEGER NOT NULL DEFAULT 0 CHECK (to_all IN (0, 1)),
  CHECK ((answer IS NULL) = (answered_at IS NULL))
) STRICT;
CREATE INDEX questions_of_assignment ON questions (assignment_id);
CREATE INDEX questions_of_student ON questions (student_id);

CREATE TABLE errata (
  id INTEGER PRIMARY KEY,
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  stage INTEGER NOT NULL,
  sheet_sha256 TEXT NOT NULL,
  place_json TEXT,
  text TEXT NOT NULL CHECK (text <> ''),
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL
) STRICT;
CREATE INDEX errata_of_assignment ON errata (assignment_id);
