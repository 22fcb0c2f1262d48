-- Where sounds of a kit come together, and what they go through there.
CREATE TABLE bus (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  kit_id   TEXT NOT NULL REFERENCES kit (id) ON DELETE CASCADE,
  position REAL NOT NULL,
  name     TEXT NOT NULL,
  kind     TEXT NOT NULL,
  settings TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX bus_by_kit ON bus (kit_id, position);

CREATE TABLE busStep (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  bus_id    TEXT NOT NULL REFERENCES bus (id) ON DELETE CASCADE,
  position  REAL NOT NULL,
  processor TEXT NOT NULL,
  active    INTEGER NOT NULL DEFAULT 1,
  settings  TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX busStep_by_bus ON busStep (bus_id, position);

-- The bus that a pad plays on; one that is gone is the output.
ALTER TABLE pad ADD COLUMN bus_id TEXT;

-- The recordings that one which came in a bundle was printed from.
ALTER TABLE recording ADD COLUMN origins TEXT NOT NULL DEFAULT '[]';

-- What the chances of a kit from a bundle begin from.
ALTER TABLE kit ADD COLUMN seed INTEGER;

-- Versions of a kit are kits of their own, kept on purpose.
ALTER TABLE kit ADD COLUMN version_of TEXT;
ALTER TABLE kit ADD COLUMN kept_at INTEGER;
CREATE INDEX kit_by_version ON kit (version_of, kept_at);

-- What came with the application.
ALTER TABLE recording ADD COLUMN supplied INTEGER NOT NULL DEFAULT 0;
ALTER TABLE kit ADD COLUMN supplied INTEGER NOT NULL DEFAULT 0;

-- What a layout tells of the whole kit.
ALTER TABLE layout ADD COLUMN kit_values TEXT NOT NULL DEFAULT '{}';
