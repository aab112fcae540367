-- How sure a carried pose is.
ALTER TABLE pose ADD COLUMN unsure TEXT CHECK (unsure IN ('covered', 'soft', 'alike', 'leap', 'ends differ'));
ALTER TABLE pose ADD COLUMN doubt REAL NOT NULL DEFAULT 0;
ALTER TABLE pose ADD COLUMN off_by TEXT NOT NULL DEFAULT '[]';
