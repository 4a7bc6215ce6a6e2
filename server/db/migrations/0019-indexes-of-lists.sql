-- What lists read of attempts and reports, without the long columns beside it. The score of an attempt is that of its
-- report, written together with it.
ALTER TABLE attempts ADD COLUMN score REAL;
UPDATE attempts SET score = (SELECT score FROM reports WHERE attempt_id = attempts.id);
DROP INDEX attempts_by_assignment;
CREATE INDEX attempts_of_assignment ON attempts (assignment_id, student_id, stage, state, score);
CREATE INDEX reports_in_lists ON reports (attempt_id, score, score_before_release, finding);
