-- A shot whose brightness is a layer's matte.
ALTER TABLE layer ADD COLUMN matte_id TEXT REFERENCES shot (id);
ALTER TABLE layer ADD COLUMN matte_from INTEGER NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN matte_turned INTEGER NOT NULL DEFAULT 0;
