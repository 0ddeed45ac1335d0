-- Counting and grouping findings reads these few columns, not the rows with all that a finding says.
CREATE INDEX findings_counted ON findings (scan_id, position, cause, check_id, severity);
