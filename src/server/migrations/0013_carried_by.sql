-- How an outline is taken to other frames; subjects that strokes began were cut out again.
ALTER TABLE outline ADD COLUMN carried_by TEXT NOT NULL DEFAULT 'edge' CHECK (carried_by IN ('edge', 'cutting'));
UPDATE outline SET carried_by = 'cutting' WHERE painted = 1 AND kind = 'loop';
