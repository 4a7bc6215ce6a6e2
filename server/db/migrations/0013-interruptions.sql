-- How often the whole server ended while a job ran. That is no fault of its file: only a worker that ends counts as a try.
ALTER TABLE jobs ADD COLUMN interruptions INTEGER NOT NULL DEFAULT 0;
