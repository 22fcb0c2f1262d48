-- Parameters lie together as JSON, those that differ from their initial values; what is done to a hit's sound becomes steps; lists of
-- allowed values leave the tables, as what documents may hold is checked by their declarations. Applied with foreign keys off and
-- checked afterwards.

-- Triggers that speak of tables which are made anew; they come back at the end.
DROP TRIGGER kit_rename_noted;
DROP TRIGGER layer_insert_noted;
DROP TRIGGER layer_delete_noted;
DROP TRIGGER layer_update_noted;
DROP TRIGGER slice_insert_noted;
DROP TRIGGER slice_delete_noted;
DROP TRIGGER recording_insert_noted;
DROP TRIGGER recording_update_noted;
DROP TRIGGER recording_delete_noted;
DROP TRIGGER job_insert_noted;
DROP TRIGGER job_update_noted;
DROP TRIGGER job_delete_noted;

-- A merge patch (RFC 7396) leaves out what is null: initial values.
CREATE TABLE pad_anew (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  kit_id   TEXT NOT NULL REFERENCES kit (id) DEFERRABLE INITIALLY DEFERRED,
  position INTEGER NOT NULL,
  name     TEXT NOT NULL,
  family   TEXT,
  settings TEXT NOT NULL DEFAULT '{}'
);
INSERT INTO pad_anew SELECT id, rev, kit_id, position, name, family, json_patch('{}', json_object(
    'levelDb', nullif(level_db, 0), 'normaliseDbfs', normalise_dbfs, 'semitones', nullif(semitones, 0),
    'cents', nullif(cents, 0), 'pan', nullif(pan, 0), 'mode', nullif(mode, 'one-shot'),
    'chokeGroup', nullif(choke_group, 0), 'fadeOutMs', nullif(fade_out_ms, 2), 'note', note,
    'oneVoice', CASE one_voice WHEN 1 THEN json('true') END))
  FROM pad;
DROP TABLE pad;
ALTER TABLE pad_anew RENAME TO pad;
CREATE INDEX pad_by_kit ON pad (kit_id);

CREATE TABLE layer_anew (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  pad_id   TEXT NOT NULL REFERENCES pad (id) DEFERRABLE INITIALLY DEFERRED,
  hit_id   TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  position INTEGER NOT NULL,
  settings TEXT NOT NULL DEFAULT '{}'
);
INSERT INTO layer_anew SELECT id, rev, pad_id, hit_id, position, json_patch('{}', json_object(
    'levelDb', nullif(level_db, 0), 'semitones', nullif(semitones, 0), 'cents', nullif(cents, 0)))
  FROM layer;
DROP TABLE layer;
ALTER TABLE layer_anew RENAME TO layer;
CREATE INDEX layer_by_pad ON layer (pad_id);
CREATE INDEX layer_by_hit ON layer (hit_id);

CREATE TABLE cut_anew (
  id       TEXT PRIMARY KEY REFERENCES recording (id) ON DELETE CASCADE,
  rev      INTEGER NOT NULL DEFAULT 1,
  -- What new pads get whose sound comes from the recording.
  pad      TEXT NOT NULL DEFAULT '{}',
  settings TEXT NOT NULL DEFAULT '{}'
);
INSERT INTO cut_anew SELECT id, rev, pad, json_patch('{}', json_object(
    'method', nullif(method, 'attack'), 'sensitivity', nullif(sensitivity, 0.5), 'spacingMs', nullif(spacing_ms, 20),
    'band', nullif(band, 'all'), 'strongest', strongest, 'preRollMs', nullif(pre_roll_ms, 0),
    'thresholdDb', threshold_db, 'shortestSoundMs', nullif(shortest_sound_ms, 20),
    'shortestGapMs', nullif(shortest_gap_ms, 120), 'leadInMs', nullif(lead_in_ms, 2), 'tailMs', nullif(tail_ms, 60),
    'tempoBpm', tempo_bpm, 'beats', nullif(beats, 4), 'beatUnit', nullif(beat_unit, 4),
    'downbeatFrame', downbeat_frame, 'noteValue', nullif(note_value, '1/8'), 'pull', nullif(pull, 0)))
  FROM cut;
DROP TABLE cut;
ALTER TABLE cut_anew RENAME TO cut;

CREATE TABLE slice_anew (
  id           TEXT PRIMARY KEY,
  rev          INTEGER NOT NULL DEFAULT 1,
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  start_frame  INTEGER NOT NULL,
  end_frame    INTEGER NOT NULL,
  origin       TEXT NOT NULL,
  family       TEXT,
  name         TEXT NOT NULL DEFAULT '',
  locked       INTEGER NOT NULL DEFAULT 0,
  -- Sound up to here is wanted although it has died away before.
  keep_frame   INTEGER,
  shelf        TEXT,
  -- Other drums that are struck with a slice's own and that a person keeps in it on purpose.
  also         TEXT NOT NULL DEFAULT '[]',
  CHECK (end_frame > start_frame)
);
INSERT INTO slice_anew SELECT id, rev, recording_id, start_frame, end_frame, origin, family, name, locked, keep_frame, shelf, also
  FROM slice;
DROP TABLE slice;
ALTER TABLE slice_anew RENAME TO slice;
CREATE INDEX slice_by_recording ON slice (recording_id, start_frame);

CREATE TABLE recording_anew (
  id            TEXT PRIMARY KEY,
  rev           INTEGER NOT NULL DEFAULT 1,
  title         TEXT NOT NULL,
  rights_kind   TEXT NOT NULL DEFAULT 'unknown',
  rights_owner  TEXT NOT NULL DEFAULT '',
  rights_text   TEXT NOT NULL DEFAULT '',
  notes         TEXT NOT NULL DEFAULT '',
  -- Fixed from here on: what came in, and how.
  state         TEXT NOT NULL,
  file_name     TEXT NOT NULL,
  encoding      TEXT NOT NULL,
  valid_bits    INTEGER NOT NULL,
  sample_rate   INTEGER NOT NULL CHECK (sample_rate BETWEEN 8000 AND 192000),
  channel_count INTEGER NOT NULL CHECK (channel_count BETWEEN 1 AND 8),
  frames        INTEGER NOT NULL DEFAULT 0,
  peak          REAL NOT NULL DEFAULT 0,
  content_hash  TEXT,
  warnings      TEXT NOT NULL DEFAULT '[]',
  arrived_at    INTEGER NOT NULL,
  what          TEXT,
  place         TEXT NOT NULL DEFAULT '',
  made_on       TEXT NOT NULL DEFAULT '',
  tags          TEXT NOT NULL DEFAULT '[]',
  tempo_bpm     REAL,
  binned_at     INTEGER,
  -- The kind of file, what it says of itself, and the mean of each channel's samples.
  file_kind     TEXT NOT NULL DEFAULT 'wav',
  said          TEXT,
  dc            TEXT NOT NULL DEFAULT '[]',
  -- What is to become of it once it has been listened to, and how hits made then are prepared.
  take_as       TEXT NOT NULL DEFAULT 'recording',
  prepare       TEXT NOT NULL DEFAULT '[]',
  pattern       TEXT NOT NULL DEFAULT ''
);
INSERT INTO recording_anew SELECT id, rev, title, rights_kind, rights_owner, rights_text, notes, state, file_name, encoding,
    valid_bits, sample_rate, channel_count, frames, peak, content_hash, warnings, arrived_at, what, place, made_on, tags, tempo_bpm,
    binned_at, file_kind, said, dc, take_as, prepare, pattern
  FROM recording;
DROP TABLE recording;
ALTER TABLE recording_anew RENAME TO recording;
CREATE UNIQUE INDEX recording_content ON recording (content_hash) WHERE state = 'ready';
CREATE INDEX recording_by_arrival ON recording (arrived_at, id);

CREATE TABLE job_anew (
  id            INTEGER PRIMARY KEY,
  kind          TEXT NOT NULL,
  recording_id  TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  state         TEXT NOT NULL,
  lease_until   INTEGER NOT NULL DEFAULT 0,
  attempts      INTEGER NOT NULL DEFAULT 0,
  error         TEXT,
  -- How often it was broken off because the application ended: that is no failure of the job, only a reason to try others first.
  interruptions INTEGER NOT NULL DEFAULT 0
);
INSERT INTO job_anew SELECT id, kind, recording_id, state, lease_until, attempts, error, interruptions FROM job;
DROP TABLE job;
ALTER TABLE job_anew RENAME TO job;
CREATE INDEX job_by_state ON job (state, lease_until);
CREATE INDEX job_by_recording ON job (recording_id, kind, id);

-- One thing that is done to a hit's sound: a processor with its parameters.
CREATE TABLE step (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  hit_id    TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  position  REAL NOT NULL,
  processor TEXT NOT NULL,
  active    INTEGER NOT NULL DEFAULT 1,
  settings  TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX step_by_hit ON step (hit_id, position);

-- The ids of the steps that a hit's constant offset and gain become, for hits that are there and those that the history knows.
CREATE TABLE step_of_hit (hit_id TEXT PRIMARY KEY, dc TEXT NOT NULL, level TEXT NOT NULL) WITHOUT ROWID;
INSERT INTO step_of_hit
  SELECT id, lower(hex(randomblob(16))), lower(hex(randomblob(16)))
  FROM (SELECT id FROM hit UNION SELECT doc_id FROM change WHERE doc = 'hit');

INSERT INTO step (id, hit_id, position, processor, settings)
  SELECT s.dc, h.id, 0, 'dc',
    -- As it is written: read as a number it would lose its last digits.
    (SELECT json_group_object('offset' || (key + 1), json(h.dc -> fullkey)) FROM json_each(h.dc) WHERE value <> 0)
  FROM hit h JOIN step_of_hit s ON s.hit_id = h.id WHERE h.dc <> '[]';
INSERT INTO step (id, hit_id, position, processor, settings)
  SELECT s.level, h.id, 1, 'level', json_object('gainDb', h.gain_db)
  FROM hit h JOIN step_of_hit s ON s.hit_id = h.id WHERE h.gain_db <> 0;

-- The history says the same of the steps as it did of the fields: a gain that was set is a step that was made, one set to nothing a step
-- that was removed.
INSERT INTO change (edit_id, ordinal, doc, doc_id, before, after)
  SELECT edit_id, ordinal + 1000000, 'step', s.level,
    CASE WHEN b = 0 THEN NULL WHEN a = 0 THEN json_object('id', s.level, 'hitId', s.hit_id, 'position', 1, 'processor', 'level',
      'active', json('true'), 'gainDb', b) ELSE json_object('gainDb', b) END,
    CASE WHEN a = 0 THEN NULL WHEN b = 0 THEN json_object('id', s.level, 'hitId', s.hit_id, 'position', 1, 'processor', 'level',
      'active', json('true'), 'gainDb', a) ELSE json_object('gainDb', a) END
  FROM (SELECT edit_id, ordinal, doc_id, ifnull(json_extract(before, '$.gainDb'), 0) AS b,
          ifnull(json_extract(after, '$.gainDb'), 0) AS a FROM change WHERE doc = 'hit') c
  JOIN step_of_hit s ON s.hit_id = c.doc_id WHERE a <> b;
INSERT INTO change (edit_id, ordinal, doc, doc_id, before, after)
  SELECT edit_id, ordinal + 2000000, 'step', s.dc,
    CASE WHEN b = '{}' THEN NULL WHEN a = '{}' THEN json_patch(json_object('id', s.dc, 'hitId', s.hit_id, 'position', 0,
      'processor', 'dc', 'active', json('true')), b) ELSE b END,
    CASE WHEN a = '{}' THEN NULL WHEN b = '{}' THEN json_patch(json_object('id', s.dc, 'hitId', s.hit_id, 'position', 0,
      'processor', 'dc', 'active', json('true')), a) ELSE a END
  FROM (SELECT edit_id, ordinal, doc_id,
          (SELECT json_group_object('offset' || (key + 1), json(before -> ('$.dc' || substr(fullkey, 2))))
           FROM json_each(ifnull(json_extract(before, '$.dc'), '[]'))) AS b,
          (SELECT json_group_object('offset' || (key + 1), json(after -> ('$.dc' || substr(fullkey, 2))))
           FROM json_each(ifnull(json_extract(after, '$.dc'), '[]'))) AS a FROM change WHERE doc = 'hit') c
  JOIN step_of_hit s ON s.hit_id = c.doc_id WHERE a <> b;
UPDATE change SET before = json_remove(before, '$.gainDb', '$.dc'), after = json_remove(after, '$.gainDb', '$.dc') WHERE doc = 'hit';
DROP TABLE step_of_hit;

DROP TRIGGER hit_update_noted;
ALTER TABLE hit DROP COLUMN gain_db;
ALTER TABLE hit DROP COLUMN dc;
CREATE TRIGGER hit_update_noted AFTER UPDATE ON hit BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.id), ('recordings', NEW.recording_id), ('recordings', OLD.recording_id);
END;

CREATE TRIGGER step_insert_noted AFTER INSERT ON step BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.hit_id);
END;
CREATE TRIGGER step_update_noted AFTER UPDATE ON step BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.hit_id);
END;
CREATE TRIGGER step_delete_noted AFTER DELETE ON step BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.hit_id);
END;

-- As they were (009-lists).
CREATE TRIGGER kit_rename_noted AFTER UPDATE OF name ON kit BEGIN
  INSERT INTO list_note (list, id)
    SELECT DISTINCT 'hits', u.hit_id FROM (SELECT hit_id, pad_id FROM layer UNION SELECT hit_id, pad_id FROM variation) u
    JOIN pad p ON p.id = u.pad_id WHERE p.kit_id = NEW.id;
  INSERT INTO list_note (list, id)
    SELECT DISTINCT 'recordings', h.recording_id FROM layer l JOIN pad p ON p.id = l.pad_id JOIN hit h ON h.id = l.hit_id
    WHERE p.kit_id = NEW.id;
END;
CREATE TRIGGER layer_insert_noted AFTER INSERT ON layer BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.hit_id);
  INSERT INTO list_note (list, id) SELECT 'recordings', recording_id FROM hit WHERE id = NEW.hit_id;
END;
CREATE TRIGGER layer_delete_noted AFTER DELETE ON layer BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.hit_id);
  INSERT INTO list_note (list, id) SELECT 'recordings', recording_id FROM hit WHERE id = OLD.hit_id;
END;
CREATE TRIGGER layer_update_noted AFTER UPDATE OF hit_id, pad_id ON layer BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.hit_id), ('hits', NEW.hit_id);
  INSERT INTO list_note (list, id) SELECT 'recordings', recording_id FROM hit WHERE id IN (OLD.hit_id, NEW.hit_id);
END;
CREATE TRIGGER slice_insert_noted AFTER INSERT ON slice BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER slice_delete_noted AFTER DELETE ON slice BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', OLD.recording_id);
END;
CREATE TRIGGER recording_insert_noted AFTER INSERT ON recording BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.id);
END;
CREATE TRIGGER recording_update_noted AFTER UPDATE ON recording BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.id);
END;
CREATE TRIGGER recording_delete_noted AFTER DELETE ON recording BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', OLD.id);
END;
CREATE TRIGGER job_insert_noted AFTER INSERT ON job WHEN NEW.kind = 'analyse' BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER job_update_noted AFTER UPDATE OF state ON job WHEN NEW.kind = 'analyse' BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER job_delete_noted AFTER DELETE ON job WHEN OLD.kind = 'analyse' BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', OLD.recording_id);
END;
