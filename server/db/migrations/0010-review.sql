-- What an instructor made of an attempt. `version` counts every change, so that two instructors notice each other.
CREATE TABLE reviews (
  attempt_id INTEGER PRIMARY KEY REFERENCES attempts (id) ON DELETE CASCADE,
  version INTEGER NOT NULL DEFAULT 0,
  changed_at TEXT NOT NULL,
  changed_by INTEGER NOT NULL REFERENCES users (id),
  accepted_at TEXT,
  accepted_by INTEGER REFERENCES users (id),
  released_at TEXT,
  CHECK ((accepted_at IS NULL) = (accepted_by IS NULL))
) STRICT, WITHOUT ROWID;

-- Lines of a report that count other than they were measured; `line_id` is a check, "typed:mass" or "rule:1".
CREATE TABLE overrides (
  attempt_id INTEGER NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
  line_id TEXT NOT NULL,
  credit REAL NOT NULL CHECK (credit BETWEEN 0 AND 1),
  reason TEXT NOT NULL CHECK (reason <> ''),
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL,
  PRIMARY KEY (attempt_id, line_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE remarks (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
  text TEXT NOT NULL CHECK (text <> ''),
  -- Where it points to, on the model or the sheet.
  pin_json TEXT,
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL
) STRICT;
CREATE INDEX remarks_by_attempt ON remarks (attempt_id);

-- Remarks that are used again and again in a course; names in braces fill themselves.
CREATE TABLE remark_collection (
  id INTEGER PRIMARY KEY,
  course_id INTEGER NOT NULL REFERENCES courses (id) ON DELETE CASCADE,
  text TEXT NOT NULL CHECK (text <> ''),
  UNIQUE (course_id, text)
) STRICT;

-- What a student says about a report, and what is said back.
CREATE TABLE replies (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
  text TEXT NOT NULL CHECK (text <> ''),
  wants_look INTEGER NOT NULL CHECK (wants_look IN (0, 1)),
  written_at TEXT NOT NULL,
  answer TEXT,
  answered_by INTEGER REFERENCES users (id),
  answered_at TEXT,
  CHECK ((answered_at IS NULL) = (answered_by IS NULL))
) STRICT;
CREATE INDEX replies_by_attempt ON replies (attempt_id);
CREATE INDEX replies_open ON replies (attempt_id) WHERE answered_at IS NULL;

-- Until when late work is taken; null where the due time is the end.
ALTER TABLE assignments ADD COLUMN late_until TEXT CHECK (late_until > due_at);
-- When a report reaches its student: with the measuring, when it is accepted, or when it is released by hand.
ALTER TABLE assignments ADD COLUMN release TEXT NOT NULL DEFAULT 'automatic'
  CHECK (release IN ('automatic', 'accepted', 'by-hand'));
-- How much the report of each attempt tells, the first one first.
ALTER TABLE assignments ADD COLUMN feedback_json TEXT NOT NULL DEFAULT '["overlay"]';

-- The list of build steps as the student wrote it.
ALTER TABLE attempts ADD COLUMN build_log TEXT NOT NULL DEFAULT '';

-- Earlier programs knew no overrides, no lists of build steps and no deductions.
UPDATE reports SET report_json = json_set(
  report_json,
  '$.lines', (
    SELECT json_group_array(json_set(line.value, '$.override', NULL))
    FROM json_each(reports.report_json, '$.lines') AS line
  ),
  '$.typed', (
    SELECT json_group_array(json_set(line.value, '$.override', NULL))
    FROM json_each(reports.report_json, '$.typed') AS line
  ),
  '$.rules', (
    SELECT json_group_array(json_set(line.value, '$.override', NULL, '$.weight', 0))
    FROM json_each(reports.report_json, '$.rules') AS line
  ),
  '$.questions', json('[]'),
  '$.deductions', json('[]'),
  '$.detail', 'overlay'
)
WHERE json_extract(report_json, '$.lines') IS NOT NULL;

-- How large the part of a reference is, by which a part is known that was handed in for another exercise.
CREATE TABLE part_sizes (
  reference_sha256 TEXT PRIMARY KEY REFERENCES files (sha256),
  volume_mm3 REAL NOT NULL,
  area_mm2 REAL NOT NULL
) STRICT, WITHOUT ROWID;
