-- What each revision did, so that a second window is told what has changed since its own.
ALTER TABLE request ADD COLUMN kind TEXT CHECK (kind IN ('do', 'undo', 'redo'));
ALTER TABLE request ADD COLUMN edit_id TEXT;
-- Whether anything is undone is asked at every commit; the rows are long.
CREATE INDEX edit_undone ON edit (crossing_id, sequence) WHERE undone = 1;
CREATE INDEX edit_done ON edit (crossing_id, sequence) WHERE undone = 0;
CREATE INDEX request_of_crossing ON request (crossing_id, revision);

-- Work copies may be smaller than the shot.
ALTER TABLE shot ADD COLUMN work_share REAL NOT NULL DEFAULT 1 CHECK (work_share > 0 AND work_share <= 1);
