-- Findings that are accepted on purpose: 1 when so. The reason stands in the body.
ALTER TABLE findings ADD COLUMN waived INTEGER NOT NULL DEFAULT 0;
-- Counting findings reads these few columns, not the rows with all that a finding says.
DROP INDEX findings_counted;
CREATE INDEX findings_counted ON findings (scan_id, position, check_id, severity, waived);
-- Waivers that match nothing any more, as JSON; what somebody wrote about the scan; when somebody looked at it first.
ALTER TABLE scans ADD COLUMN idle_waivers TEXT;
ALTER TABLE scans ADD COLUMN note TEXT NOT NULL DEFAULT '';
ALTER TABLE scans ADD COLUMN seen_at TEXT;
