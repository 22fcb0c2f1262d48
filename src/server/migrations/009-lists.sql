-- What has changed in the lists of hits and recordings and when, counted by a clock of its own: a page asks for what is new since it last
-- did. Rows are noted by triggers, so that nothing which writes can forget to.
CREATE TABLE list_clock (
  list  TEXT PRIMARY KEY,
  -- Tells this workspace's counting from any other's.
  epoch TEXT NOT NULL,
  at    INTEGER NOT NULL
) WITHOUT ROWID;
INSERT INTO list_clock VALUES ('hits', lower(hex(randomblob(8))), 1), ('recordings', lower(hex(randomblob(8))), 1);

CREATE TABLE list_change (
  list TEXT NOT NULL,
  id   TEXT NOT NULL,
  at   INTEGER NOT NULL,
  PRIMARY KEY (list, id)
) WITHOUT ROWID;
CREATE INDEX list_change_by_time ON list_change (list, at);

CREATE INDEX hit_by_name ON hit (name COLLATE NOCASE, id);
CREATE INDEX recording_by_arrival ON recording (arrived_at, id);

-- A row written here notes a change; it is a view, so that each trigger below is one line.
CREATE VIEW list_note AS SELECT list, id FROM list_change;
CREATE TRIGGER list_note_insert INSTEAD OF INSERT ON list_note BEGIN
  UPDATE list_clock SET at = at + 1 WHERE list = NEW.list;
  INSERT INTO list_change (list, id, at) SELECT NEW.list, NEW.id, at FROM list_clock WHERE list = NEW.list
    ON CONFLICT (list, id) DO UPDATE SET at = excluded.at;
END;

CREATE TRIGGER hit_insert_noted AFTER INSERT ON hit BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.id), ('recordings', NEW.recording_id);
END;
CREATE TRIGGER hit_update_noted AFTER UPDATE ON hit BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.id), ('recordings', NEW.recording_id), ('recordings', OLD.recording_id);
END;
CREATE TRIGGER hit_delete_noted AFTER DELETE ON hit BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.id), ('recordings', OLD.recording_id);
END;

-- Which kits play a hit, and how many pads something of a recording.
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
CREATE TRIGGER variation_insert_noted AFTER INSERT ON variation BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.hit_id);
END;
CREATE TRIGGER variation_delete_noted AFTER DELETE ON variation BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.hit_id);
END;
CREATE TRIGGER variation_update_noted AFTER UPDATE OF hit_id, pad_id ON variation BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.hit_id), ('hits', NEW.hit_id);
END;
CREATE TRIGGER kit_rename_noted AFTER UPDATE OF name ON kit BEGIN
  INSERT INTO list_note (list, id)
    SELECT DISTINCT 'hits', u.hit_id FROM (SELECT hit_id, pad_id FROM layer UNION SELECT hit_id, pad_id FROM variation) u
    JOIN pad p ON p.id = u.pad_id WHERE p.kit_id = NEW.id;
  INSERT INTO list_note (list, id)
    SELECT DISTINCT 'recordings', h.recording_id FROM layer l JOIN pad p ON p.id = l.pad_id JOIN hit h ON h.id = l.hit_id
    WHERE p.kit_id = NEW.id;
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
CREATE TRIGGER recording_file_noted AFTER INSERT ON recording_file BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER analysis_noted AFTER INSERT ON analysis BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER slice_insert_noted AFTER INSERT ON slice BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', NEW.recording_id);
END;
CREATE TRIGGER slice_delete_noted AFTER DELETE ON slice BEGIN
  INSERT INTO list_note (list, id) VALUES ('recordings', OLD.recording_id);
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
