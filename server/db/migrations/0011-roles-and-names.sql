-- Accounts of administrators and assistants; what a role may do is in api/roles.ts.
CREATE TABLE users_of_all_roles (
  id INTEGER PRIMARY KEY,
  login TEXT NOT NULL UNIQUE COLLATE NOCASE,
  name TEXT NOT NULL,
  role TEXT NOT NULL CHECK (role IN ('administrator', 'instructor', 'assistant', 'student')),
  password_hash TEXT NOT NULL,
  created_at TEXT NOT NULL
) STRICT;
INSERT INTO users_of_all_roles (id, login, name, role, password_hash, created_at)
  SELECT id, login, name, role, password_hash, created_at FROM users;
DROP TABLE users;
ALTER TABLE users_of_all_roles RENAME TO users;

-- Who belongs to a course, in which role; what an assistant is allowed beyond it.
CREATE TABLE course_staff (
  course_id INTEGER NOT NULL REFERENCES courses (id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  role TEXT NOT NULL CHECK (role IN ('instructor', 'assistant')),
  may_release INTEGER NOT NULL DEFAULT 0 CHECK (may_release IN (0, 1)),
  PRIMARY KEY (course_id, user_id)
) STRICT, WITHOUT ROWID;
INSERT INTO course_staff (course_id, user_id, role) SELECT course_id, user_id, 'instructor' FROM course_instructors;
DROP TABLE course_instructors;

-- Causes that were observed and mistakes that were found have the same ids now.
UPDATE reports SET report_json = json_set(
  report_json,
  '$.causes', (
    SELECT json_group_array(json_set(cause.value, '$.id', CASE cause.value ->> '$.id'
      WHEN 'radius-diameter' THEN
        CASE WHEN cause.value ->> '$.message' LIKE '% is twice %' THEN 'diameter-for-radius' ELSE 'radius-for-diameter' END
      WHEN 'half-or-whole' THEN
        CASE WHEN cause.value ->> '$.message' LIKE '% is twice %' THEN 'whole-for-half' ELSE 'half-for-whole' END
      WHEN 'hole-forgotten' THEN 'one-forgotten'
      WHEN 'hole-extra' THEN 'feature-extra'
      WHEN 'step-forgotten' THEN 'feature-forgotten'
      WHEN 'bevel-reversed' THEN 'chamfer-reversed'
      WHEN 'rounds-on-rims' THEN 'edges-not-sharp'
      ELSE cause.value ->> '$.id' END))
    FROM json_each(reports.report_json, '$.causes') AS cause
  )
)
WHERE json_extract(report_json, '$.causes') IS NOT NULL;
UPDATE reports SET diagnosis_json = replace(replace(replace(diagnosis_json,
  '"kind":"step-forgotten"', '"kind":"feature-forgotten"'),
  '"kind":"bevel-reversed"', '"kind":"chamfer-reversed"'),
  '"kind":"rounds-on-rims"', '"kind":"edges-not-sharp"')
WHERE diagnosis_json IS NOT NULL;

-- What a file is like as a model is its quality.
UPDATE reports SET report_json = replace(report_json, '"group":"hygiene"', '"group":"model-quality"'),
  policy_json = replace(policy_json, '"hygiene":', '"model-quality":');
UPDATE assignments SET policy_json = replace(policy_json, '"hygiene":', '"model-quality":') WHERE policy_json IS NOT NULL;

-- Mistakes name the parameter that they change; what is known of them is made anew.
UPDATE reports SET diagnosis_json = replace(diagnosis_json, '"kind":"letter"', '"kind":"parameter"')
WHERE diagnosis_json IS NOT NULL;
DELETE FROM atlases;
