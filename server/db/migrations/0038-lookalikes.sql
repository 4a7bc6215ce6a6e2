-- Pictures of a part beside others that it may be taken for, for reading practice: made once for each reference.
CREATE TABLE lookalikes (
  reference_sha256 TEXT PRIMARY KEY,
  document_json TEXT NOT NULL,
  made_at TEXT NOT NULL
);
