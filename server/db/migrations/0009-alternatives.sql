-- Causes that may have been instead of the first are marked as such.
UPDATE reports SET report_json = json_set(
  report_json,
  '$.causes', (
    SELECT json_group_array(json_set(
      cause.value,
      '$.instead', json(CASE WHEN cause.value ->> '$.message' LIKE 'Or: %' THEN 'true' ELSE 'false' END),
      '$.message', CASE WHEN cause.value ->> '$.message' LIKE 'Or: %'
        THEN substr(cause.value ->> '$.message', 5) ELSE cause.value ->> '$.message' END
    ))
    FROM json_each(reports.report_json, '$.causes') AS cause
  )
)
WHERE json_extract(report_json, '$.causes') IS NOT NULL;
