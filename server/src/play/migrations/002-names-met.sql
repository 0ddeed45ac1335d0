-- Where in the code something happened, and by what names a session met what is on the map.

ALTER TABLE events ADD COLUMN place TEXT;

CREATE TABLE met (
  session INTEGER NOT NULL,
  met_as TEXT NOT NULL,
  name TEXT NOT NULL,
  times INTEGER NOT NULL,
  PRIMARY KEY (session, met_as, name)
) WITHOUT ROWID;
