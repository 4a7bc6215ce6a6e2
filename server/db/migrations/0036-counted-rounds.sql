-- How far a student was round the sheet at the hand-in, where that counts: dimensions that were not measured, of how many.
ALTER TABLE attempts ADD COLUMN round_open INTEGER;
ALTER TABLE attempts ADD COLUMN round_all INTEGER;
