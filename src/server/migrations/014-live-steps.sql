-- What all strokes of a pad go through together.
CREATE TABLE padStep (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  pad_id    TEXT NOT NULL REFERENCES pad (id) ON DELETE CASCADE,
  position  REAL NOT NULL,
  processor TEXT NOT NULL,
  active    INTEGER NOT NULL DEFAULT 1,
  settings  TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX padStep_by_pad ON padStep (pad_id, position);
