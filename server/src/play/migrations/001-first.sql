-- What happened in play, in a file of its own: millions of events are no part of what is kept of scans.

CREATE TABLE tokens (
  project INTEGER PRIMARY KEY,
  token TEXT NOT NULL
);

CREATE TABLE sessions (
  id INTEGER PRIMARY KEY,
  project INTEGER NOT NULL,
  name TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  came_by TEXT NOT NULL,
  started_at TEXT NOT NULL,
  ended_at TEXT,
  events INTEGER NOT NULL DEFAULT 0,
  unread INTEGER NOT NULL DEFAULT 0,
  dropped INTEGER NOT NULL DEFAULT 0,
  -- The first of what could not be read, as JSON.
  problems TEXT NOT NULL DEFAULT '[]'
);

CREATE TABLE kinds (
  session INTEGER NOT NULL,
  id INTEGER NOT NULL,
  type TEXT NOT NULL,
  happening TEXT NOT NULL,
  events INTEGER NOT NULL,
  PRIMARY KEY (session, id)
) WITHOUT ROWID;

CREATE TABLE events (
  session INTEGER NOT NULL,
  -- Position in the session, from 1.
  at INTEGER NOT NULL,
  kind INTEGER NOT NULL,
  -- Milliseconds since 1970: when it happened, or when it came.
  time INTEGER NOT NULL,
  id TEXT NOT NULL,
  source TEXT NOT NULL,
  subject TEXT,
  handler TEXT,
  frame INTEGER,
  side TEXT,
  cause TEXT,
  -- The payload as JSON, and attributes of others.
  data TEXT,
  others TEXT,
  PRIMARY KEY (session, at)
) WITHOUT ROWID;
CREATE INDEX events_by_id ON events (session, id);
CREATE INDEX events_by_cause ON events (session, cause) WHERE cause IS NOT NULL;

CREATE TABLE rates (
  session INTEGER NOT NULL,
  second INTEGER NOT NULL,
  kind INTEGER NOT NULL,
  events INTEGER NOT NULL,
  -- Positions of the first and the last of them.
  first INTEGER NOT NULL,
  last INTEGER NOT NULL,
  PRIMARY KEY (session, second, kind)
) WITHOUT ROWID;

CREATE TABLE marks (
  session INTEGER NOT NULL,
  at INTEGER NOT NULL,
  note TEXT NOT NULL,
  PRIMARY KEY (session, at)
) WITHOUT ROWID;
