-- Uploaded drawings belong to exercises as model files do.
ALTER TABLE exercise_models RENAME TO exercise_files;
