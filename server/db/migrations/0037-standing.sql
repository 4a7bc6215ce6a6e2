-- Whether a student owes the work of an assignment: was away when it was due, or need not hand it in.
ALTER TABLE extensions ADD COLUMN standing TEXT NOT NULL DEFAULT 'owed' CHECK (standing IN ('owed', 'absent', 'excused'));
UPDATE extensions SET standing = 'excused' WHERE excused = 1;
ALTER TABLE extensions DROP COLUMN excused;
