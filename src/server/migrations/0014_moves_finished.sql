-- What a layer shows between two frames, what its lens bends, and how thick a leaf is.
ALTER TABLE layer ADD COLUMN betweens TEXT NOT NULL DEFAULT 'nearest' CHECK (betweens IN ('nearest', 'mixed'));
ALTER TABLE layer ADD COLUMN lens REAL NOT NULL DEFAULT 0;
ALTER TABLE outline ADD COLUMN thickness REAL NOT NULL DEFAULT 0;
ALTER TABLE outline ADD COLUMN thickness_colour INTEGER NOT NULL DEFAULT 7035464;
