-- Takes: recordings that were made here. While one runs its recording is marked as arriving.
CREATE TABLE take (
  recording_id TEXT PRIMARY KEY REFERENCES recording (id) ON DELETE CASCADE,
  -- Takes in a row share one.
  session_id   TEXT NOT NULL,
  number       INTEGER NOT NULL,
  state        TEXT NOT NULL CHECK (state IN ('running','done')),
  -- It ended without being stopped.
  cut_off      INTEGER NOT NULL DEFAULT 0,
  -- Where it came from, as JSON; see contract/takes.
  source       TEXT NOT NULL,
  -- What the room sounded like before, as JSON; null where that was not heard.
  room         TEXT
);

-- Frames of a running take after its last whole block, as they came in.
CREATE TABLE take_piece (
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  ordinal      INTEGER NOT NULL,
  data         BLOB NOT NULL,
  UNIQUE (recording_id, ordinal)
);

-- The struck voice that is a hit's source, as JSON; null where that is its recording.
ALTER TABLE hit ADD COLUMN voice TEXT;
