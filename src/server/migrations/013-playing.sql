-- A kit has parameters of its own. A pad that played one voice has their number now; pads that are there keep the curve of
-- velocity and the steadiness that they were made with, whatever new pads begin with.
ALTER TABLE kit ADD COLUMN settings TEXT NOT NULL DEFAULT '{}';

UPDATE pad SET settings = json_remove(
    CASE json_extract(settings, '$.oneVoice') WHEN 1 THEN json_set(settings, '$.voices', 1) ELSE settings END, '$.oneVoice');
UPDATE pad SET settings = json_set(settings, '$.velocityDb', 84.15214883823828, '$.driftCents', 0, '$.driftDb', 0);

UPDATE cut SET pad = json_remove(
    CASE json_extract(pad, '$.oneVoice') WHEN 1 THEN json_set(pad, '$.voices', 1) ELSE pad END, '$.oneVoice')
  WHERE json_type(pad, '$.oneVoice') IS NOT NULL;
UPDATE plan SET pad = json_remove(
    CASE json_extract(pad, '$.oneVoice') WHEN 1 THEN json_set(pad, '$.voices', 1) ELSE pad END, '$.oneVoice')
  WHERE json_type(pad, '$.oneVoice') IS NOT NULL;

-- The history says the same: of fields that changed, and of whole pads that were made or removed.
UPDATE change SET before = json_remove(json_set(before, '$.voices',
    CASE json_extract(before, '$.oneVoice') WHEN 1 THEN 1 END), '$.oneVoice')
  WHERE doc = 'pad' AND json_type(before, '$.oneVoice') IS NOT NULL;
UPDATE change SET after = json_remove(json_set(after, '$.voices',
    CASE json_extract(after, '$.oneVoice') WHEN 1 THEN 1 END), '$.oneVoice')
  WHERE doc = 'pad' AND json_type(after, '$.oneVoice') IS NOT NULL;
UPDATE change SET before = json_set(before, '$.velocityDb', 84.15214883823828, '$.driftCents', 0, '$.driftDb', 0)
  WHERE doc = 'pad' AND json_type(before, '$.kitId') IS NOT NULL AND after IS NULL;
UPDATE change SET after = json_set(after, '$.velocityDb', 84.15214883823828, '$.driftCents', 0, '$.driftDb', 0)
  WHERE doc = 'pad' AND json_type(after, '$.kitId') IS NOT NULL AND before IS NULL;

-- What was played, kept: a MIDI file in base64.
CREATE TABLE performance (
  id      TEXT PRIMARY KEY,
  rev     INTEGER NOT NULL DEFAULT 1,
  name    TEXT NOT NULL,
  seconds REAL NOT NULL,
  strokes INTEGER NOT NULL,
  midi    TEXT NOT NULL
);
