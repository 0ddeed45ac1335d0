-- The plans that kept scans were made by, as they were read, by what a plan is known by: with the facts of their files
-- the maps of those scans are made anew.
CREATE TABLE plans (
  hash TEXT PRIMARY KEY,
  body TEXT NOT NULL
) WITHOUT ROWID;
ALTER TABLE scans ADD COLUMN plan TEXT;
