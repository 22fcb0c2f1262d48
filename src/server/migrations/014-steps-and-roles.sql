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

-- What a pad is in its kit's layout.
ALTER TABLE pad ADD COLUMN role TEXT NOT NULL DEFAULT '';

-- Roles of a kit's places, without sounds.
CREATE TABLE layout (
  id     TEXT PRIMARY KEY,
  rev    INTEGER NOT NULL DEFAULT 1,
  name   TEXT NOT NULL,
  places TEXT NOT NULL
);

-- What a kit says of itself.
ALTER TABLE kit ADD COLUMN author TEXT NOT NULL DEFAULT '';
ALTER TABLE kit ADD COLUMN about TEXT NOT NULL DEFAULT '';
ALTER TABLE kit ADD COLUMN words TEXT NOT NULL DEFAULT '[]';
ALTER TABLE kit ADD COLUMN notes TEXT NOT NULL DEFAULT '';
