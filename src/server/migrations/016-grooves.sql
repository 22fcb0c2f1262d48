-- A rhythm of notes that are addressed to roles.
CREATE TABLE groove (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  name     TEXT NOT NULL,
  bars     INTEGER NOT NULL,
  meters   TEXT NOT NULL,
  settings TEXT NOT NULL DEFAULT '{}'
);

-- What plays some of its notes.
CREATE TABLE grooveRow (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  groove_id TEXT NOT NULL REFERENCES groove (id) ON DELETE CASCADE,
  position  REAL NOT NULL,
  role      TEXT NOT NULL,
  note      INTEGER NOT NULL,
  family    TEXT,
  settings  TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX grooveRow_by_groove ON grooveRow (groove_id, position);

CREATE TABLE grooveNote (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  row_id   TEXT NOT NULL REFERENCES grooveRow (id) ON DELETE CASCADE,
  tick     INTEGER NOT NULL,
  length   INTEGER NOT NULL,
  settings TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX grooveNote_by_row ON grooveNote (row_id, tick);
