-- How each check of a report came out, for what a whole class is compared by.
CREATE TABLE report_checks (
  attempt_id INTEGER NOT NULL REFERENCES reports (attempt_id) ON DELETE CASCADE,
  check_id TEXT NOT NULL,
  label TEXT NOT NULL,
  -- Share of its weight that was earned, and how many of a hundred points that is.
  credit REAL NOT NULL,
  points REAL NOT NULL,
  PRIMARY KEY (attempt_id, check_id)
) STRICT, WITHOUT ROWID;

WITH totals AS MATERIALIZED (
  SELECT reports.attempt_id, sum(json_extract(line.value, '$.weight')) AS weight
  FROM reports, json_each(reports.report_json, '$.lines') AS line GROUP BY reports.attempt_id
)
INSERT OR IGNORE INTO report_checks (attempt_id, check_id, label, credit, points)
  SELECT reports.attempt_id, json_extract(line.value, '$.checkId'), json_extract(line.value, '$.label'),
         CAST(coalesce(json_extract(line.value, '$.credit'), 0) AS REAL),
         CASE WHEN totals.weight > 0
           THEN 100.0 * coalesce(json_extract(line.value, '$.credit'), 0) * json_extract(line.value, '$.weight') / totals.weight
           ELSE 0.0 END
  FROM reports JOIN totals ON totals.attempt_id = reports.attempt_id, json_each(reports.report_json, '$.lines') AS line;
