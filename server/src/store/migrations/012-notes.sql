-- What people noted on findings, for as long as the project is known: it stays when a finding is gone and comes again.
CREATE TABLE finding_notes (
  project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  fingerprint TEXT NOT NULL,
  text TEXT NOT NULL,
  noted_at TEXT NOT NULL,
  PRIMARY KEY (project_id, fingerprint)
) WITHOUT ROWID;
