-- A file that could not be taken in for a reason that passes (a full disk, no right to read it) is tried again by the next scan.
ALTER TABLE folder_file ADD COLUMN passing INTEGER NOT NULL DEFAULT 0;

-- How often a job was broken off because the application ended: that is no failure of the job, only a reason to try others first.
ALTER TABLE job ADD COLUMN interruptions INTEGER NOT NULL DEFAULT 0;
CREATE INDEX job_by_recording ON job (recording_id, kind, id);

CREATE INDEX edit_by_reversed ON edit (reverses) WHERE reverses IS NOT NULL;
