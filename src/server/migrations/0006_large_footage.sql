-- What each revision did, so that a second window is told what has changed since its own.
ALTER TABLE request ADD COLUMN kind TEXT CHECK (kind IN ('do', 'undo', 'redo'));
ALTER TABLE request ADD COLUMN edit_id TEXT;
CREATE INDEX request_of_crossing ON request (crossing_id, revision);

-- Work copies may be smaller than the shot.
ALTER TABLE shot ADD COLUMN work_share REAL NOT NULL DEFAULT 1 CHECK (work_share > 0 AND work_share <= 1);
