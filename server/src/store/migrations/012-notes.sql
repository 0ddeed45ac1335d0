-- What people noted on findings, for as long as the project is known: it stays when a finding is gone and comes again.
CREATE TABLE finding_notes (
  project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  fingerprint TEXT NOT NULL,
  text TEXT NOT NULL,
  noted_at TEXT NOT NULL,
  PRIMARY KEY (project_id, fingerprint)
) WITHOUT ROWID;
-- Findings by folder and by file are counted and ordered by these few columns, not by the rows with all that a finding says.
CREATE INDEX findings_by_file ON findings (scan_id, waived, file, line, position, severity, check_id);
-- 1 for those that rest on learned rules which nobody has looked at.
ALTER TABLE findings ADD COLUMN learned INTEGER NOT NULL DEFAULT 0;
UPDATE findings SET learned = 1 WHERE body ->> '$.isLearned' IS NOT NULL;
