-- Work copies may be smaller than the shot.
ALTER TABLE shot ADD COLUMN work_share REAL NOT NULL DEFAULT 1 CHECK (work_share > 0 AND work_share <= 1);
