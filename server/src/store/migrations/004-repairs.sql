-- Findings with the same cause stand together.
ALTER TABLE findings ADD COLUMN cause TEXT NOT NULL DEFAULT '';
UPDATE findings SET cause = fingerprint;
-- Counts and groups are taken from this alone, without the findings' bodies.
CREATE INDEX findings_by_cause ON findings (scan_id, cause, severity, check_id, file, fingerprint);

-- Repairs that were written. files: what each file held before, and the hash of what it holds since, as JSON.
CREATE TABLE repairs (
  id INTEGER PRIMARY KEY,
  project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  written_at TEXT NOT NULL,
  title TEXT NOT NULL,
  files TEXT NOT NULL,
  undone_at TEXT
);
CREATE INDEX repairs_by_project ON repairs (project_id, id);
