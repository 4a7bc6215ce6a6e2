-- What the student said the numbers of a file without unit are in; null when nothing was said.
ALTER TABLE attempts ADD COLUMN file_unit TEXT CHECK (file_unit IN ('mm', 'cm', 'm', 'in', 'ft'));

-- Missing and extra material in 3D; null where there is none to show.
ALTER TABLE reports ADD COLUMN overlay_sha256 TEXT REFERENCES files (sha256);

-- Reports of earlier programs, which read STEP files alone: nothing was in doubt, and features were not compared.
UPDATE reports SET report_json = json_set(
  report_json,
  '$.lines', (
    SELECT json_group_array(json_set(line.value, '$.limits', NULL, '$.uncertainty', 0, '$.reason', NULL))
    FROM json_each(reports.report_json, '$.lines') AS line
  ),
  '$.frame.certainty', json_extract(report_json, '$.frame.agreement'),
  '$.format', 'step',
  '$.overlay', NULL,
  '$.missing', json('[]'),
  '$.extra', json('[]')
);
