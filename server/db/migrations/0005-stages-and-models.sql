-- Model files that were uploaded as the reference of an exercise.
CREATE TABLE exercise_models (
  exercise_id INTEGER NOT NULL REFERENCES exercises (id) ON DELETE CASCADE,
  sha256 TEXT NOT NULL REFERENCES files (sha256),
  file_name TEXT NOT NULL,
  uploaded_at TEXT NOT NULL,
  PRIMARY KEY (exercise_id, sha256)
) STRICT, WITHOUT ROWID;

-- The reference part as a file: STEP, or the model file that was uploaded.
ALTER TABLE exercise_revisions RENAME COLUMN step_sha256 TO part_sha256;

-- What is made of each variant and stage of a revision, save the first stage as drawn, which the revision itself has.
-- `variant` is its place in the document's list, from 0; -1 is the part as drawn. Stages are counted from 1.
CREATE TABLE revision_parts (
  revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id) ON DELETE CASCADE,
  variant INTEGER NOT NULL,
  stage INTEGER NOT NULL,
  reference_sha256 TEXT NOT NULL REFERENCES files (sha256),
  sheet_sha256 TEXT NOT NULL REFERENCES files (sha256),
  PRIMARY KEY (revision_id, variant, stage)
) STRICT, WITHOUT ROWID;
INSERT INTO revision_parts (revision_id, variant, stage, reference_sha256, sheet_sha256)
  SELECT revision_id, variant, 1, reference_sha256, sheet_sha256 FROM revision_variants;
DROP TABLE revision_variants;

-- The stage of the exercise that was handed in.
ALTER TABLE attempts ADD COLUMN stage INTEGER NOT NULL DEFAULT 1;

-- Build rules were not evaluated before.
UPDATE reports SET report_json = json_set(report_json, '$.rules', json('[]'));
