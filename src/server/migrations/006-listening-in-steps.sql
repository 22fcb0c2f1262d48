-- A job can now be to work out and keep a rhythm, which is done when nothing more urgent is.
CREATE TABLE job_anew (
  id           INTEGER PRIMARY KEY,
  kind         TEXT NOT NULL CHECK (kind IN ('analyse','describe','rhythm')),
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  state        TEXT NOT NULL CHECK (state IN ('waiting','running','done','failed')),
  lease_until  INTEGER NOT NULL DEFAULT 0,
  attempts     INTEGER NOT NULL DEFAULT 0,
  error        TEXT
);
INSERT INTO job_anew SELECT id, kind, recording_id, state, lease_until, attempts, error FROM job;
DROP TABLE job;
ALTER TABLE job_anew RENAME TO job;
CREATE INDEX job_by_state ON job (state, lease_until);

-- Sounds are numbered in the order in which they are listened to, so that only new ones need be sent. They are figures of what is there
-- anyway, worked out anew when they are wanted.
DROP TABLE slice_sound;
CREATE TABLE slice_sound (
  id           INTEGER PRIMARY KEY AUTOINCREMENT,
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  start_frame  INTEGER NOT NULL,
  end_frame    INTEGER NOT NULL,
  version      INTEGER NOT NULL,
  figures      BLOB NOT NULL,
  UNIQUE (recording_id, start_frame, end_frame)
);
