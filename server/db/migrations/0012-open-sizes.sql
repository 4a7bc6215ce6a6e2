-- What the sheet of each stage leaves open, worked out in the background once a revision is there. `inputs_sha256` names
-- what it was worked out of, so that revisions share it.
CREATE TABLE studies (
  revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id) ON DELETE CASCADE,
  stage INTEGER NOT NULL,
  inputs_sha256 TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed')),
  open_json TEXT,
  PRIMARY KEY (revision_id, stage),
  CHECK ((state = 'done') = (open_json IS NOT NULL))
) STRICT, WITHOUT ROWID;

-- Why it was issued although its sheet leaves sizes open; null where it does not, or where nobody knew.
ALTER TABLE assignments ADD COLUMN open_reason TEXT;
