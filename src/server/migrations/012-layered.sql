-- A layer of a layered hit.
CREATE TABLE member (
  id         TEXT PRIMARY KEY,
  rev        INTEGER NOT NULL DEFAULT 1,
  layered_id TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  hit_id     TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  position   REAL NOT NULL,
  bands_db   TEXT NOT NULL DEFAULT '[]',
  settings   TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX member_by_layered ON member (layered_id, position);
CREATE INDEX member_by_hit ON member (hit_id);

-- A step of a layer's own.
CREATE TABLE memberStep (
  id        TEXT PRIMARY KEY,
  rev       INTEGER NOT NULL DEFAULT 1,
  member_id TEXT NOT NULL REFERENCES member (id) ON DELETE CASCADE,
  position  REAL NOT NULL,
  processor TEXT NOT NULL,
  active    INTEGER NOT NULL DEFAULT 1,
  settings  TEXT NOT NULL DEFAULT '{}'
);
CREATE INDEX memberStep_by_member ON memberStep (member_id, position);

ALTER TABLE hit ADD COLUMN edges_hz TEXT NOT NULL DEFAULT '[]';
-- The take under which a pad's layer sounds; none for all.
ALTER TABLE layer ADD COLUMN with_hit_id TEXT;

-- The list has a layered hit with its own documents; those of its layers' hits are rows of their own.
CREATE TRIGGER member_insert_noted AFTER INSERT ON member BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.layered_id);
END;
CREATE TRIGGER member_update_noted AFTER UPDATE ON member BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', NEW.layered_id);
END;
CREATE TRIGGER member_delete_noted AFTER DELETE ON member BEGIN
  INSERT INTO list_note (list, id) VALUES ('hits', OLD.layered_id);
END;
CREATE TRIGGER memberStep_insert_noted AFTER INSERT ON memberStep BEGIN
  INSERT INTO list_note (list, id) SELECT 'hits', layered_id FROM member WHERE id = NEW.member_id;
END;
CREATE TRIGGER memberStep_update_noted AFTER UPDATE ON memberStep BEGIN
  INSERT INTO list_note (list, id) SELECT 'hits', layered_id FROM member WHERE id = NEW.member_id;
END;
CREATE TRIGGER memberStep_delete_noted AFTER DELETE ON memberStep BEGIN
  INSERT INTO list_note (list, id) SELECT 'hits', layered_id FROM member WHERE id = OLD.member_id;
END;
