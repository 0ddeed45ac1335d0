-- The server that serves this store, so that a second one can say where the first one is. One row at most.
CREATE TABLE server (
  one INTEGER PRIMARY KEY CHECK (one = 1),
  pid INTEGER NOT NULL,
  address TEXT NOT NULL
);
