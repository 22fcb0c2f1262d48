-- The workspace: recordings with their audio, how they are cut, hits, kits, and the history of every change.

CREATE TABLE recording (
  id            TEXT PRIMARY KEY,
  rev           INTEGER NOT NULL DEFAULT 1,
  title         TEXT NOT NULL,
  rights_kind   TEXT NOT NULL DEFAULT 'unknown'
                CHECK (rights_kind IN ('own','public-domain','cc0','cc-by','other','not-shared','unknown')),
  rights_owner  TEXT NOT NULL DEFAULT '',
  rights_text   TEXT NOT NULL DEFAULT '',
  notes         TEXT NOT NULL DEFAULT '',
  -- Fixed from here on: what came in, and how.
  state         TEXT NOT NULL CHECK (state IN ('arriving','ready')),
  file_name     TEXT NOT NULL,
  encoding      TEXT NOT NULL CHECK (encoding IN ('u8','s16','s24','s32','f32','f64')),
  valid_bits    INTEGER NOT NULL,
  sample_rate   INTEGER NOT NULL CHECK (sample_rate BETWEEN 8000 AND 192000),
  channel_count INTEGER NOT NULL CHECK (channel_count BETWEEN 1 AND 8),
  frames        INTEGER NOT NULL DEFAULT 0,
  peak          REAL NOT NULL DEFAULT 0,
  content_hash  TEXT,
  warnings      TEXT NOT NULL DEFAULT '[]',
  arrived_at    INTEGER NOT NULL
);
CREATE UNIQUE INDEX recording_content ON recording (content_hash) WHERE state = 'ready';

-- Audio in the source's own encoding, 65,536 frames a row, the last one shorter.
CREATE TABLE pcm_block (
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  ordinal      INTEGER NOT NULL,
  data         BLOB NOT NULL,
  UNIQUE (recording_id, ordinal)
);

-- Lowest and highest sample of every 256 * 4^level frames, as pairs of 16-bit integers, 1,024 pairs a row.
CREATE TABLE peak_tile (
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  level        INTEGER NOT NULL,
  ordinal      INTEGER NOT NULL,
  data         BLOB NOT NULL,
  UNIQUE (recording_id, level, ordinal)
);

-- What detection found: four 64-bit floats a candidate (frame, strength, decay end, peak).
CREATE TABLE analysis (
  recording_id TEXT PRIMARY KEY REFERENCES recording (id) ON DELETE CASCADE,
  version      INTEGER NOT NULL,
  candidates   BLOB NOT NULL
);

CREATE TABLE cut (
  id          TEXT PRIMARY KEY REFERENCES recording (id) ON DELETE CASCADE,
  rev         INTEGER NOT NULL DEFAULT 1,
  sensitivity REAL NOT NULL,
  spacing_ms  REAL NOT NULL
);

CREATE TABLE slice (
  id           TEXT PRIMARY KEY,
  rev          INTEGER NOT NULL DEFAULT 1,
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  start_frame  INTEGER NOT NULL,
  end_frame    INTEGER NOT NULL,
  origin       TEXT NOT NULL CHECK (origin IN ('found','hand')),
  family       TEXT,
  CHECK (end_frame > start_frame)
);
CREATE INDEX slice_by_recording ON slice (recording_id, start_frame);

CREATE TABLE hit (
  id           TEXT PRIMARY KEY,
  rev          INTEGER NOT NULL DEFAULT 1,
  name         TEXT NOT NULL,
  family       TEXT,
  recording_id TEXT NOT NULL REFERENCES recording (id) DEFERRABLE INITIALLY DEFERRED,
  start_frame  INTEGER NOT NULL,
  end_frame    INTEGER NOT NULL,
  slice_id     TEXT, -- lineage only: the slice may be gone
  CHECK (end_frame > start_frame)
);
CREATE INDEX hit_by_recording ON hit (recording_id);

CREATE TABLE kit (
  id   TEXT PRIMARY KEY,
  rev  INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL
);

CREATE TABLE pad (
  id             TEXT PRIMARY KEY,
  rev            INTEGER NOT NULL DEFAULT 1,
  kit_id         TEXT NOT NULL REFERENCES kit (id) DEFERRABLE INITIALLY DEFERRED,
  position       INTEGER NOT NULL CHECK (position BETWEEN 0 AND 31),
  name           TEXT NOT NULL,
  family         TEXT,
  level_db       REAL NOT NULL,
  normalise_dbfs REAL,
  semitones      INTEGER NOT NULL,
  cents          REAL NOT NULL,
  pan            REAL NOT NULL,
  mode           TEXT NOT NULL CHECK (mode IN ('one-shot','held')),
  choke_group    INTEGER NOT NULL,
  fade_out_ms    REAL NOT NULL
);
CREATE INDEX pad_by_kit ON pad (kit_id);

CREATE TABLE layer (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  pad_id    TEXT NOT NULL REFERENCES pad (id) DEFERRABLE INITIALLY DEFERRED,
  hit_id    TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  position  INTEGER NOT NULL,
  level_db  REAL NOT NULL,
  semitones INTEGER NOT NULL,
  cents     REAL NOT NULL
);
CREATE INDEX layer_by_pad ON layer (pad_id);
CREATE INDEX layer_by_hit ON layer (hit_id);

-- One gesture of a person. Undoing is an edit too, so that nothing is ever taken out of this table.
CREATE TABLE edit (
  id       INTEGER PRIMARY KEY,
  browser  TEXT NOT NULL,
  label    TEXT NOT NULL,
  at       INTEGER NOT NULL,
  kind     TEXT NOT NULL CHECK (kind IN ('edit','undo','redo')),
  reverses INTEGER REFERENCES edit (id),
  -- Of kind 'edit' only: done, undone, or dropped (undone, then something else was done instead).
  state    TEXT NOT NULL CHECK (state IN ('done','undone','dropped'))
);
CREATE INDEX edit_by_browser ON edit (browser, state, id);

-- What an edit did to each document, field by field, as JSON: null before means created, null after removed.
CREATE TABLE change (
  edit_id INTEGER NOT NULL REFERENCES edit (id),
  ordinal INTEGER NOT NULL,
  doc     TEXT NOT NULL,
  doc_id  TEXT NOT NULL,
  before  TEXT,
  after   TEXT,
  PRIMARY KEY (edit_id, ordinal)
) WITHOUT ROWID;
CREATE INDEX change_by_doc ON change (doc, doc_id);

CREATE TABLE job (
  id           INTEGER PRIMARY KEY,
  kind         TEXT NOT NULL CHECK (kind IN ('analyse')),
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  state        TEXT NOT NULL CHECK (state IN ('waiting','running','done','failed')),
  lease_until  INTEGER NOT NULL DEFAULT 0,
  attempts     INTEGER NOT NULL DEFAULT 0,
  error        TEXT
);
CREATE INDEX job_by_state ON job (state, lease_until);
