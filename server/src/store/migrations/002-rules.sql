-- What each rule of the plan came to in a scan, as JSON: a list of rules with their counts.
ALTER TABLE scans ADD COLUMN rules TEXT;
