-- What the page calls one hand-in, so that sending it again, as after a lost answer, makes no second attempt.
ALTER TABLE attempts ADD COLUMN hand_in_key TEXT;
CREATE UNIQUE INDEX attempts_by_key ON attempts (student_id, hand_in_key) WHERE hand_in_key IS NOT NULL;
