-- What every mistake of a part measures, made in the background once a revision is there. `variant` and `stage` as in
-- revision_parts; the first stage as drawn is (-1, 1). `inputs_sha256` names what it is made of, so that revisions share it.
CREATE TABLE atlases (
  revision_id INTEGER NOT NULL REFERENCES exercise_revisions (id) ON DELETE CASCADE,
  variant INTEGER NOT NULL,
  stage INTEGER NOT NULL,
  inputs_sha256 TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed')),
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  atlas_sha256 TEXT REFERENCES files (sha256),
  proposals_json TEXT NOT NULL DEFAULT '[]',
  PRIMARY KEY (revision_id, variant, stage),
  CHECK ((state = 'done') = (atlas_sha256 IS NOT NULL))
) STRICT, WITHOUT ROWID;

-- What the atlas said of an attempt; without, it was graded before there was one.
ALTER TABLE reports ADD COLUMN diagnosis_json TEXT;

-- Earlier programs observed causes, and knew no values that follow from others.
UPDATE reports SET report_json = json_set(
  report_json,
  '$.lines', (
    SELECT json_group_array(json_set(line.value, '$.followOn', json('false')))
    FROM json_each(reports.report_json, '$.lines') AS line
  ),
  '$.causes', (
    SELECT json_group_array(json_set(cause.value, '$.explains', 'observed'))
    FROM json_each(reports.report_json, '$.causes') AS cause
  )
)
WHERE json_extract(report_json, '$.lines') IS NOT NULL;
