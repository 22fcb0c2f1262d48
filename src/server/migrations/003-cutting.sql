-- Four ways to split, slices with names that can be locked, cutting plans, and what splitting at silence looks at.

ALTER TABLE slice ADD COLUMN name TEXT NOT NULL DEFAULT '';
ALTER TABLE slice ADD COLUMN locked INTEGER NOT NULL DEFAULT 0 CHECK (locked IN (0, 1));
-- Sound up to here is wanted although it has died away before.
ALTER TABLE slice ADD COLUMN keep_frame INTEGER;

ALTER TABLE cut ADD COLUMN method TEXT NOT NULL DEFAULT 'attack' CHECK (method IN ('attack','silence','grid','marks'));
ALTER TABLE cut ADD COLUMN band TEXT NOT NULL DEFAULT 'all' CHECK (band IN ('all','low','mid','high'));
ALTER TABLE cut ADD COLUMN strongest INTEGER;
ALTER TABLE cut ADD COLUMN pre_roll_ms REAL NOT NULL DEFAULT 0;
ALTER TABLE cut ADD COLUMN threshold_db REAL;
ALTER TABLE cut ADD COLUMN shortest_sound_ms REAL NOT NULL DEFAULT 20;
ALTER TABLE cut ADD COLUMN shortest_gap_ms REAL NOT NULL DEFAULT 120;
ALTER TABLE cut ADD COLUMN lead_in_ms REAL NOT NULL DEFAULT 2;
ALTER TABLE cut ADD COLUMN tail_ms REAL NOT NULL DEFAULT 60;
ALTER TABLE cut ADD COLUMN tempo_bpm REAL;
ALTER TABLE cut ADD COLUMN beats INTEGER NOT NULL DEFAULT 4;
ALTER TABLE cut ADD COLUMN beat_unit INTEGER NOT NULL DEFAULT 4;
ALTER TABLE cut ADD COLUMN downbeat_frame INTEGER;
ALTER TABLE cut ADD COLUMN note_value TEXT NOT NULL DEFAULT '1/8';
ALTER TABLE cut ADD COLUMN pull REAL NOT NULL DEFAULT 0;
-- What new pads get whose sound comes from the recording.
ALTER TABLE cut ADD COLUMN pad TEXT NOT NULL DEFAULT '{}';

CREATE TABLE plan (
  id    TEXT PRIMARY KEY,
  rev   INTEGER NOT NULL DEFAULT 1,
  name  TEXT NOT NULL,
  split TEXT NOT NULL,
  pad   TEXT NOT NULL
);

-- Levels in half decibels, a byte every 2 ms; see core/onset/silence.
ALTER TABLE analysis ADD COLUMN level_step INTEGER NOT NULL DEFAULT 0;
ALTER TABLE analysis ADD COLUMN levels BLOB;
