-- Projects that were opened.
CREATE TABLE projects (
  id INTEGER PRIMARY KEY,
  folder TEXT NOT NULL UNIQUE,
  plan_file TEXT,
  name TEXT NOT NULL,
  opened_at TEXT NOT NULL
);

-- Every scan, also those that failed. state: running, done, failed, stopped.
CREATE TABLE scans (
  id INTEGER PRIMARY KEY,
  project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  state TEXT NOT NULL CHECK (state IN ('running', 'done', 'failed', 'stopped')),
  started_at TEXT NOT NULL,
  milliseconds INTEGER,
  reused INTEGER,
  -- Problem details of a failed scan, as JSON.
  error TEXT,
  -- The verdict and its figures, as JSON.
  readiness TEXT
);
CREATE INDEX scans_by_project ON scans (project_id, id);

-- Findings of a scan, in order. body: the whole finding as JSON.
CREATE TABLE findings (
  scan_id INTEGER NOT NULL REFERENCES scans (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  fingerprint TEXT NOT NULL,
  check_id TEXT NOT NULL,
  severity TEXT NOT NULL,
  file TEXT NOT NULL,
  line INTEGER NOT NULL,
  text TEXT NOT NULL,
  body TEXT NOT NULL,
  PRIMARY KEY (scan_id, position)
) WITHOUT ROWID;
CREATE INDEX findings_by_fingerprint ON findings (scan_id, fingerprint);

-- What became of each file in a scan.
CREATE TABLE files (
  scan_id INTEGER NOT NULL REFERENCES scans (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  status TEXT NOT NULL,
  rule TEXT NOT NULL,
  reason TEXT NOT NULL,
  size INTEGER NOT NULL,
  hash TEXT NOT NULL,
  PRIMARY KEY (scan_id, path)
) WITHOUT ROWID;

-- Facts by a hash of content, path and plan. used_at lets old ones be dropped.
CREATE TABLE facts (
  key TEXT PRIMARY KEY,
  body TEXT NOT NULL,
  used_at TEXT NOT NULL
) WITHOUT ROWID;
