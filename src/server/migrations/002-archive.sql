-- The archive: where recordings come from and what their files say, bookmarks, prepared hits, the bin, watched folders.

ALTER TABLE recording ADD COLUMN what TEXT
  CHECK (what IN ('song','loop','take','one-shot','other'));
ALTER TABLE recording ADD COLUMN place TEXT NOT NULL DEFAULT '';
ALTER TABLE recording ADD COLUMN made_on TEXT NOT NULL DEFAULT '';
ALTER TABLE recording ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';
ALTER TABLE recording ADD COLUMN tempo_bpm REAL;
ALTER TABLE recording ADD COLUMN binned_at INTEGER;
-- Fixed: the kind of file, what it says of itself, and the mean of each channel's samples.
ALTER TABLE recording ADD COLUMN file_kind TEXT NOT NULL DEFAULT 'wav';
ALTER TABLE recording ADD COLUMN said TEXT;
ALTER TABLE recording ADD COLUMN dc TEXT NOT NULL DEFAULT '[]';
-- What is to become of it once it has been listened to, and how hits made then are prepared.
ALTER TABLE recording ADD COLUMN take_as TEXT NOT NULL DEFAULT 'recording'
  CHECK (take_as IN ('recording','hit','auto'));
ALTER TABLE recording ADD COLUMN prepare TEXT NOT NULL DEFAULT '[]';

-- Every file a recording came as: the same audio under another name is kept once.
CREATE TABLE recording_file (
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  file_name    TEXT NOT NULL,
  path         TEXT NOT NULL DEFAULT '',
  arrived_at   INTEGER NOT NULL,
  UNIQUE (recording_id, file_name, path)
);
INSERT INTO recording_file (recording_id, file_name, arrived_at)
  SELECT id, file_name, arrived_at FROM recording WHERE state = 'ready';

CREATE TABLE bookmark (
  id           TEXT PRIMARY KEY,
  rev          INTEGER NOT NULL DEFAULT 1,
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  frame        INTEGER NOT NULL CHECK (frame >= 0),
  label        TEXT NOT NULL DEFAULT ''
);
CREATE INDEX bookmark_by_recording ON bookmark (recording_id, frame);

-- Where percussive sound stands alone: one row of bytes a step; see core/onset/overview.
ALTER TABLE analysis ADD COLUMN overview BLOB;

ALTER TABLE hit ADD COLUMN gain_db REAL NOT NULL DEFAULT 0;
ALTER TABLE hit ADD COLUMN dc TEXT NOT NULL DEFAULT '[]';
ALTER TABLE hit ADD COLUMN root_hz REAL;
ALTER TABLE hit ADD COLUMN tempo_bpm REAL;
ALTER TABLE hit ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';
-- What speaks against its name or family, until a person has looked at it.
ALTER TABLE hit ADD COLUMN doubt TEXT NOT NULL DEFAULT '';
-- Starts of further strikes inside it, as a list of frames.
ALTER TABLE hit ADD COLUMN strikes TEXT NOT NULL DEFAULT '[]';
ALTER TABLE hit ADD COLUMN binned_at INTEGER;

CREATE TABLE watched_folder (
  id         TEXT PRIMARY KEY,
  path       TEXT NOT NULL UNIQUE,
  take_as    TEXT NOT NULL CHECK (take_as IN ('recording','hit','auto')),
  prepare    TEXT NOT NULL DEFAULT '[]',
  added_at   INTEGER NOT NULL,
  scanned_at INTEGER
);

-- What a scan has met, so that the next one takes only what is new or has changed.
CREATE TABLE folder_file (
  folder_id    TEXT NOT NULL REFERENCES watched_folder (id) ON DELETE CASCADE,
  path         TEXT NOT NULL,
  bytes        INTEGER NOT NULL,
  modified_at  INTEGER NOT NULL,
  recording_id TEXT REFERENCES recording (id) ON DELETE SET NULL,
  error        TEXT,
  PRIMARY KEY (folder_id, path)
) WITHOUT ROWID;
CREATE INDEX folder_file_by_recording ON folder_file (recording_id);
