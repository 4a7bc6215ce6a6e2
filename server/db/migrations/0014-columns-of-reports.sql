-- The score as it is told while something can be handed in and answers are withheld: what is withheld counts fully or not
-- at all. Of older reports it is not known without scoring them anew, so that it is told in steps of five.
ALTER TABLE reports ADD COLUMN score_before_release REAL NOT NULL DEFAULT 0;
-- The first cause, as lists show it.
ALTER TABLE reports ADD COLUMN finding TEXT;
UPDATE reports SET
  score_before_release = 5 * round(score / 5),
  report_json = json_set(report_json, '$.scoreBeforeRelease', 5 * round(score / 5)),
  finding = json_extract(report_json, '$.causes[0].message');

-- What a report says went wrong, without what may have been it instead.
CREATE TABLE report_causes (
  attempt_id INTEGER NOT NULL REFERENCES reports (attempt_id) ON DELETE CASCADE,
  place INTEGER NOT NULL,
  kind TEXT NOT NULL,
  message TEXT NOT NULL,
  PRIMARY KEY (attempt_id, place)
) STRICT, WITHOUT ROWID;
INSERT INTO report_causes (attempt_id, place, kind, message)
  SELECT reports.attempt_id, cause.key, json_extract(cause.value, '$.id'), json_extract(cause.value, '$.message')
  FROM reports, json_each(reports.report_json, '$.causes') AS cause
  WHERE coalesce(json_extract(cause.value, '$.instead'), 0) = 0;

CREATE INDEX attempts_by_student ON attempts (student_id, assignment_id, stage, state);
CREATE INDEX attempts_unfinished ON attempts (state) WHERE state IN ('waiting', 'running');
CREATE INDEX assignments_by_section ON assignments (section_id);
CREATE INDEX assignments_by_revision ON assignments (revision_id);
CREATE INDEX jobs_by_time ON jobs (queued_at, attempt_id);
CREATE INDEX atlases_unfinished ON atlases (state) WHERE state IN ('waiting', 'running');
CREATE INDEX reports_unexplained ON reports (attempt_id) WHERE diagnosis_json IS NULL;
