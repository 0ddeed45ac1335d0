-- Who last touched the lines of what was found, as JSON: asked of the version history when somebody wants to see it.
ALTER TABLE scans ADD COLUMN touched TEXT;
