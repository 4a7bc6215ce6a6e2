ALTER TABLE users ADD COLUMN email TEXT;
-- Looks after people and the service, beside what the role says.
ALTER TABLE users ADD COLUMN administers INTEGER NOT NULL DEFAULT 0 CHECK (administers IN (0, 1));
ALTER TABLE users ADD COLUMN signed_in_at TEXT;

-- One-time codes for a first sign-in or a forgotten password; only their hash is stored.
CREATE TABLE sign_in_codes (
  code_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  expires_at TEXT NOT NULL
) STRICT;
CREATE INDEX sign_in_codes_by_user ON sign_in_codes (user_id);

ALTER TABLE courses ADD COLUMN term TEXT NOT NULL DEFAULT '';
ALTER TABLE courses ADD COLUMN archived_at TEXT;
-- With which students join a section by themselves; null where they may not.
ALTER TABLE sections ADD COLUMN join_code TEXT;
CREATE UNIQUE INDEX sections_by_join_code ON sections (join_code) WHERE join_code IS NOT NULL;

-- What a roster changed, so that it can be undone.
CREATE TABLE roster_changes (
  id INTEGER PRIMARY KEY,
  section_id INTEGER NOT NULL REFERENCES sections (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES users (id),
  changes_json TEXT NOT NULL,
  undone_at TEXT
) STRICT;
CREATE INDEX roster_changes_by_section ON roster_changes (section_id);

-- Other dates and more attempts for one student.
CREATE TABLE extensions (
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  due_at TEXT,
  extra_attempts INTEGER NOT NULL DEFAULT 0 CHECK (extra_attempts BETWEEN 0 AND 20),
  excused INTEGER NOT NULL DEFAULT 0 CHECK (excused IN (0, 1)),
  reason TEXT NOT NULL CHECK (reason <> ''),
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL,
  PRIMARY KEY (assignment_id, student_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX extensions_by_student ON extensions (student_id);

ALTER TABLE assignments ADD COLUMN withdrawn_at TEXT;

-- Who changed a grade, a date, a key or a role, when, and from what to what. Nobody can edit it.
CREATE TABLE audit_log (
  id INTEGER PRIMARY KEY,
  made_at TEXT NOT NULL,
  made_by INTEGER,
  made_by_name TEXT NOT NULL,
  course_id INTEGER,
  what TEXT NOT NULL,
  subject TEXT NOT NULL,
  before_json TEXT,
  after_json TEXT
) STRICT;
CREATE INDEX audit_log_by_course ON audit_log (course_id, id);
CREATE TRIGGER audit_log_is_not_changed BEFORE UPDATE ON audit_log
  BEGIN SELECT RAISE(ABORT, 'the log cannot be edited'); END;
CREATE TRIGGER audit_log_is_not_emptied BEFORE DELETE ON audit_log
  BEGIN SELECT RAISE(ABORT, 'the log cannot be edited'); END;
