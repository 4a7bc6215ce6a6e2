-- Reading practice: when each topic is due again for a student, and what was answered.
CREATE TABLE reading_cards (
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  topic TEXT NOT NULL,
  -- As the scheduling library keeps it.
  card_json TEXT NOT NULL,
  due_at TEXT NOT NULL,
  PRIMARY KEY (student_id, topic)
) STRICT, WITHOUT ROWID;

CREATE TABLE reading_answers (
  id INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  question_id TEXT NOT NULL,
  topic TEXT NOT NULL,
  is_right INTEGER NOT NULL CHECK (is_right IN (0, 1)),
  answered_at TEXT NOT NULL
) STRICT;
CREATE INDEX reading_answers_of ON reading_answers (student_id, assignment_id);
CREATE INDEX reading_answers_in ON reading_answers (assignment_id, topic);
