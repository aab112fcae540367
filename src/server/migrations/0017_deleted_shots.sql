-- A shot whose files were deleted while something that can be undone still names it: its record stays, so that undoing
-- goes on past it. NULL: it is there.
ALTER TABLE shot ADD COLUMN deleted_at TEXT;

-- When bytes came last; an upload is forgotten by that, not by when it was begun.
ALTER TABLE upload ADD COLUMN continued_at TEXT NOT NULL DEFAULT '';
UPDATE upload SET continued_at = created_at;
