-- Late work costs points or percent, for each day or hour, after a grace.
UPDATE assignments SET policy_json = json_set(json_remove(policy_json, '$.late.perDay'),
  '$.late.amount', json_extract(policy_json, '$.late.perDay'), '$.late.of', 'points', '$.late.each', 'day', '$.late.graceMinutes', 0)
  WHERE json_extract(policy_json, '$.late.perDay') IS NOT NULL;
UPDATE reports SET policy_json = json_set(json_remove(policy_json, '$.late.perDay'),
  '$.late.amount', json_extract(policy_json, '$.late.perDay'), '$.late.of', 'points', '$.late.each', 'day', '$.late.graceMinutes', 0)
  WHERE json_extract(policy_json, '$.late.perDay') IS NOT NULL;
