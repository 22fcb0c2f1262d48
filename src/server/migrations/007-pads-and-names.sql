-- The MIDI note of a pad where it is not its place's own, whether it plays one voice at a time, and the pattern by which
-- hits of a recording are named.
ALTER TABLE pad ADD COLUMN note INTEGER;
ALTER TABLE pad ADD COLUMN one_voice INTEGER NOT NULL DEFAULT 0;
ALTER TABLE recording ADD COLUMN pattern TEXT NOT NULL DEFAULT '';
-- Names an edit as its sender does, so that one whose answer was lost can be sent again without being done twice.
ALTER TABLE edit ADD COLUMN key TEXT;
CREATE UNIQUE INDEX edit_by_key ON edit (key) WHERE key IS NOT NULL;
-- Other drums that are struck with a slice's own and that a person keeps in it on purpose.
ALTER TABLE slice ADD COLUMN also TEXT NOT NULL DEFAULT '[]';
