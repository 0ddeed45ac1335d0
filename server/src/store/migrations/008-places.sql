-- One cause is one finding: it is known by its fingerprint, and stands in all the files of its places.
DROP INDEX findings_by_cause;
DROP INDEX findings_counted;
ALTER TABLE findings DROP COLUMN cause;
-- The files, each between line ends.
ALTER TABLE findings ADD COLUMN files TEXT NOT NULL DEFAULT '';
UPDATE findings SET files = char(10) || file || char(10);
-- Counting findings reads these few columns, not the rows with all that a finding says.
CREATE INDEX findings_counted ON findings (scan_id, position, check_id, severity);
