-- Parameters over time in a groove.
CREATE TABLE grooveLane (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  groove_id TEXT NOT NULL REFERENCES groove (id) ON DELETE CASCADE,
  row_id    TEXT,
  bus       TEXT NOT NULL,
  step      TEXT NOT NULL,
  parameter TEXT NOT NULL,
  holds     INTEGER NOT NULL,
  points    TEXT NOT NULL
);
CREATE INDEX grooveLane_by_groove ON grooveLane (groove_id);
