CREATE TABLE users (
  id INTEGER PRIMARY KEY,
  login TEXT NOT NULL UNIQUE COLLATE NOCASE,
  name TEXT NOT NULL,
  role TEXT NOT NULL CHECK (role IN ('instructor', 'student')),
  password_hash TEXT NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE sessions (
  token_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  created_at TEXT NOT NULL,
  expires_at TEXT NOT NULL
) STRICT;
CREATE INDEX sessions_by_expiry ON sessions (expires_at);

CREATE TABLE courses (
  id INTEGER PRIMARY KEY,
  title TEXT NOT NULL,
  school TEXT NOT NULL
) STRICT;

CREATE TABLE course_instructors (
  course_id INTEGER NOT NULL REFERENCES courses (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  PRIMARY KEY (course_id, user_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE sections (
  id INTEGER PRIMARY KEY,
  course_id INTEGER NOT NULL REFERENCES courses (id),
  name TEXT NOT NULL,
  UNIQUE (course_id, name)
) STRICT;

CREATE TABLE enrollments (
  section_id INTEGER NOT NULL REFERENCES sections (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  PRIMARY KEY (section_id, user_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX enrollments_by_user ON enrollments (user_id);

-- Content of the file store, which names files by the SHA-256 of what they hold.
CREATE TABLE files (
  sha256 TEXT PRIMARY KEY,
  size_bytes INTEGER NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE exercises (
  id INTEGER PRIMARY KEY,
  course_id INTEGER NOT NULL REFERENCES courses (id),
  number TEXT NOT NULL,
  title TEXT NOT NULL,
  UNIQUE (course_id, number)
) STRICT;

CREATE TABLE exercise_revisions (
  id INTEGER PRIMARY KEY,
  exercise_id INTEGER NOT NULL REFERENCES exercises (id),
  number INTEGER NOT NULL,
  document_json TEXT NOT NULL,
  reference_sha256 TEXT NOT NULL REFERENCES files (sha256),
  sheet_sha256 TEXT NOT NULL REFERENCES files (sha256),
  step_sha256 TEXT NOT NULL REFERENCES files (sha256),
  created_at TEXT NOT NULL,
  UNIQUE (exercise_id, number)
) STRICT;

CREATE TABLE assignments (
  id INTEGER PRIMARY KEY,
  revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id),
  section_id INTEGER NOT NULL REFERENCES sections (id),
  opens_at TEXT NOT NULL,
  due_at TEXT NOT NULL,
  attempts_allowed INTEGER NOT NULL CHECK (attempts_allowed BETWEEN 1 AND 20),
  -- When students see the answers that are not on the sheet.
  answers TEXT NOT NULL CHECK (answers IN ('at-once', 'after-due', 'never')),
  created_at TEXT NOT NULL,
  CHECK (opens_at < due_at)
) STRICT;

CREATE TABLE attempts (
  id INTEGER PRIMARY KEY,
  assignment_id INTEGER NOT NULL REFERENCES assignments (id),
  student_id INTEGER NOT NULL REFERENCES users (id),
  file_sha256 TEXT NOT NULL REFERENCES files (sha256),
  file_name TEXT NOT NULL,
  file_size_bytes INTEGER NOT NULL,
  typed_json TEXT NOT NULL,
  handed_in_at TEXT NOT NULL,
  -- A refused attempt does not count against the number allowed.
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'graded', 'refused')),
  refusal_code TEXT,
  refusal_message TEXT,
  CHECK ((state = 'refused') = (refusal_code IS NOT NULL))
) STRICT;
CREATE INDEX attempts_by_assignment ON attempts (assignment_id, student_id);

CREATE TABLE reports (
  attempt_id INTEGER PRIMARY KEY REFERENCES attempts (id) ON DELETE CASCADE,
  score REAL NOT NULL,
  measurement_json TEXT NOT NULL,
  report_json TEXT NOT NULL,
  model_sha256 TEXT NOT NULL REFERENCES files (sha256),
  graded_at TEXT NOT NULL,
  duration_ms INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Work to be done; a row is deleted together with the result being written.
CREATE TABLE jobs (
  attempt_id INTEGER PRIMARY KEY REFERENCES attempts (id) ON DELETE CASCADE,
  tries INTEGER NOT NULL DEFAULT 0,
  queued_at TEXT NOT NULL
) STRICT;
