-- Sites of schools that send their people here (LTI 1.3), as an administrator registers them.
CREATE TABLE school_sites (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  issuer TEXT NOT NULL,
  client_id TEXT NOT NULL,
  deployment_id TEXT NOT NULL,
  -- Where it is asked who somebody is, where a token for its services is had, and where its keys are read.
  sign_in_url TEXT NOT NULL,
  token_url TEXT NOT NULL,
  keys_url TEXT NOT NULL,
  created_at TEXT NOT NULL,
  UNIQUE (issuer, client_id, deployment_id)
) STRICT;

-- With which what is sent to such a site is signed; one that was replaced is shown for a while longer.
CREATE TABLE signing_keys (
  kid TEXT PRIMARY KEY,
  private_json TEXT NOT NULL,
  public_json TEXT NOT NULL,
  created_at TEXT NOT NULL,
  replaced_at TEXT
) STRICT;

-- Launches that were taken, so that none is taken twice; kept until they are too old to be taken at all.
CREATE TABLE site_launches (
  nonce TEXT PRIMARY KEY,
  expires_at TEXT NOT NULL
) STRICT;

-- Somebody who came from a site and has something to choose first; only the hash of the cookie is stored.
CREATE TABLE site_arrivals (
  token_hash TEXT PRIMARY KEY,
  site_id INTEGER NOT NULL REFERENCES school_sites (id) ON DELETE CASCADE,
  arrival_json TEXT NOT NULL,
  expires_at TEXT NOT NULL
) STRICT;

-- Who somebody of a site is here.
CREATE TABLE site_people (
  site_id INTEGER NOT NULL REFERENCES school_sites (id) ON DELETE CASCADE,
  subject TEXT NOT NULL,
  user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  PRIMARY KEY (site_id, subject),
  UNIQUE (site_id, user_id)
) STRICT, WITHOUT ROWID;

-- Which section a course of a site is, and where its members and grades are.
CREATE TABLE site_courses (
  site_id INTEGER NOT NULL REFERENCES school_sites (id) ON DELETE CASCADE,
  context_id TEXT NOT NULL,
  section_id INTEGER NOT NULL UNIQUE REFERENCES sections (id) ON DELETE CASCADE,
  title TEXT NOT NULL,
  members_url TEXT,
  line_items_url TEXT,
  PRIMARY KEY (site_id, context_id)
) STRICT, WITHOUT ROWID;

-- The column of a site's gradebook that an assignment has.
CREATE TABLE site_line_items (
  assignment_id INTEGER PRIMARY KEY REFERENCES assignments (id) ON DELETE CASCADE,
  site_id INTEGER NOT NULL REFERENCES school_sites (id) ON DELETE CASCADE,
  url TEXT NOT NULL
) STRICT;

-- What a site was told last of a student's grade.
CREATE TABLE sent_grades (
  assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
  score REAL NOT NULL,
  sent_at TEXT NOT NULL,
  PRIMARY KEY (assignment_id, student_id)
) STRICT, WITHOUT ROWID;
