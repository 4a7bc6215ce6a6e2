-- What the records of the school call a student and the class of a section, as a class list said it.
ALTER TABLE users ADD COLUMN school_id TEXT;
ALTER TABLE sections ADD COLUMN school_id TEXT;
