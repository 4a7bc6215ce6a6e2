-- Some students of a section who have other dates, as those who come on another day.
CREATE TABLE student_groups (
  id INTEGER PRIMARY KEY,
  section_id INTEGER NOT NULL REFERENCES sections (id) ON DELETE CASCADE,
  name TEXT NOT NULL CHECK (name <> ''),
  UNIQUE (section_id, name)
) STRICT;
CREATE TABLE student_group_members (
  group_id INTEGER NOT NULL REFERENCES student_groups (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  added_at TEXT NOT NULL,
  PRIMARY KEY (group_id, student_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX student_group_members_by_student ON student_group_members (student_id);
CREATE TABLE group_dates (
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  group_id INTEGER NOT NULL REFERENCES student_groups (id) ON DELETE CASCADE,
  due_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES users (id),
  made_at TEXT NOT NULL,
  PRIMARY KEY (assignment_id, group_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX group_dates_by_group ON group_dates (group_id);

-- The group by which a student has an extension; null for one of the student's own, which goes before.
ALTER TABLE extensions ADD COLUMN group_id INTEGER REFERENCES student_groups (id) ON DELETE CASCADE;

-- Whoever leaves a section leaves its groups, and what they gave.
CREATE TRIGGER groups_are_left AFTER DELETE ON enrollments BEGIN
  DELETE FROM student_group_members WHERE student_id = OLD.user_id
    AND group_id IN (SELECT id FROM student_groups WHERE section_id = OLD.section_id);
  DELETE FROM extensions WHERE student_id = OLD.user_id
    AND group_id IN (SELECT id FROM student_groups WHERE section_id = OLD.section_id);
END;
