-- What an export is of: its first frame, the shot that it shows alone, and a small picture of it.
ALTER TABLE export ADD COLUMN first_frame INTEGER;
ALTER TABLE export ADD COLUMN shot_name TEXT;
ALTER TABLE export ADD COLUMN picture BLOB;
