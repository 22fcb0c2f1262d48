-- What was struck when and how hard in a recording, worked out from its slices; `basis` tells from what, so that it is known when
-- something has changed since.
CREATE TABLE rhythm (
  recording_id TEXT PRIMARY KEY REFERENCES recording (id) ON DELETE CASCADE,
  basis        TEXT NOT NULL,
  rhythm       TEXT NOT NULL
) WITHOUT ROWID;

-- Other takes of what a pad plays: strokes of the same drum that it could play instead.
CREATE TABLE variation (
  id       TEXT PRIMARY KEY,
  rev      INTEGER NOT NULL DEFAULT 1,
  pad_id   TEXT NOT NULL REFERENCES pad (id) DEFERRABLE INITIALLY DEFERRED,
  hit_id   TEXT NOT NULL REFERENCES hit (id) DEFERRABLE INITIALLY DEFERRED,
  position INTEGER NOT NULL
);
CREATE INDEX variation_by_pad ON variation (pad_id);
CREATE INDEX variation_by_hit ON variation (hit_id);
