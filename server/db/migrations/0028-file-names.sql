-- How a course wants files to be called; null where it does not say.
ALTER TABLE courses ADD COLUMN file_name_rule TEXT;
