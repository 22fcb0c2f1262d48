-- What is heard in slices: figures of each, and the shelf that a person put one on.

ALTER TABLE slice ADD COLUMN shelf TEXT;

-- Figures by stretch, not by slice: a slice that comes back by undo finds its own again. See core/describe/pack.
CREATE TABLE slice_sound (
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  start_frame  INTEGER NOT NULL,
  end_frame    INTEGER NOT NULL,
  version      INTEGER NOT NULL,
  figures      BLOB NOT NULL,
  PRIMARY KEY (recording_id, start_frame, end_frame)
) WITHOUT ROWID;

-- A job can now be listening to slices as well.
CREATE TABLE job_anew (
  id           INTEGER PRIMARY KEY,
  kind         TEXT NOT NULL CHECK (kind IN ('analyse','describe')),
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
