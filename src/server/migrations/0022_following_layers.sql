-- The layer whose movement a layer goes along with, and how far, in percent.
ALTER TABLE layer ADD COLUMN follows_id TEXT;
ALTER TABLE layer ADD COLUMN follow_share REAL NOT NULL DEFAULT 100;
