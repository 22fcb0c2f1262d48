-- A step of a recording's own treatment, which its hits inherit.
CREATE TABLE recordingStep (
  id           TEXT PRIMARY KEY,
  rev          INTEGER NOT NULL DEFAULT 1,
  recording_id TEXT NOT NULL REFERENCES recording (id) ON DELETE CASCADE,
  position     REAL NOT NULL,
  processor    TEXT NOT NULL,
  active       INTEGER NOT NULL DEFAULT 1,
  settings     TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX recordingStep_by_recording ON recordingStep (recording_id, position);

ALTER TABLE hit ADD COLUMN inherits INTEGER NOT NULL DEFAULT 1;

-- A chain of steps for a purpose, kept by a person.
CREATE TABLE recipe (
  id    TEXT PRIMARY KEY,
  rev   INTEGER NOT NULL DEFAULT 1,
  name  TEXT NOT NULL,
  about TEXT NOT NULL DEFAULT '',
  steps TEXT NOT NULL
);

CREATE TRIGGER recordingStep_insert_noted AFTER INSERT ON recordingStep BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
  INSERT INTO list_note (list, id) SELECT 'hits', id FROM hit WHERE recording_id = NEW.recording_id;
END;
CREATE TRIGGER recordingStep_update_noted AFTER UPDATE ON recordingStep BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
  INSERT INTO list_note (list, id) SELECT 'hits', id FROM hit WHERE recording_id = NEW.recording_id;
END;
CREATE TRIGGER recordingStep_delete_noted AFTER DELETE ON recordingStep BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', OLD.recording_id);
  INSERT INTO list_note (list, id) SELECT 'hits', id FROM hit WHERE recording_id = OLD.recording_id;
END;
