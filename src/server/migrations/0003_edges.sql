-- Outlines combine, are kept from the hand, and have edges with a width to each side that can be keyed.
ALTER TABLE outline ADD COLUMN feather_inside REAL NOT NULL DEFAULT 0 CHECK (feather_inside >= 0);
ALTER TABLE outline ADD COLUMN feather_outside REAL NOT NULL DEFAULT 0 CHECK (feather_outside >= 0);
UPDATE outline SET
  feather_inside = CASE feather_side WHEN 'inside' THEN feather WHEN 'both' THEN feather / 2 ELSE 0 END,
  feather_outside = CASE feather_side WHEN 'outside' THEN feather WHEN 'both' THEN feather / 2 ELSE 0 END;
ALTER TABLE outline DROP COLUMN feather_side;
ALTER TABLE outline DROP COLUMN feather;
ALTER TABLE outline ADD COLUMN roundness REAL NOT NULL DEFAULT 0 CHECK (roundness >= 0);
ALTER TABLE outline ADD COLUMN factors TEXT NOT NULL DEFAULT '[]';
ALTER TABLE outline ADD COLUMN combine TEXT NOT NULL DEFAULT 'add' CHECK (combine IN ('add', 'take away', 'keep only'));
ALTER TABLE outline ADD COLUMN before_first TEXT NOT NULL DEFAULT 'empty' CHECK (before_first IN ('empty', 'full', 'hold'));
ALTER TABLE outline ADD COLUMN after_last TEXT NOT NULL DEFAULT 'full' CHECK (after_last IN ('empty', 'full', 'hold'));
ALTER TABLE outline ADD COLUMN colour TEXT NOT NULL DEFAULT 'chalk';
ALTER TABLE outline ADD COLUMN locked INTEGER NOT NULL DEFAULT 0;
ALTER TABLE outline ADD COLUMN hidden INTEGER NOT NULL DEFAULT 0;
ALTER TABLE outline ADD COLUMN shutter REAL NOT NULL DEFAULT 0 CHECK (shutter BETWEEN 0 AND 720);
ALTER TABLE outline ADD COLUMN phase REAL NOT NULL DEFAULT -90 CHECK (phase BETWEEN -720 AND 720);

ALTER TABLE pose ADD COLUMN onward TEXT NOT NULL DEFAULT 'linear' CHECK (onward IN ('linear', 'smooth', 'hold'));

-- The edge of an outline at one key.
CREATE TABLE edge (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  outline_id TEXT NOT NULL REFERENCES outline (id) DEFERRABLE INITIALLY DEFERRED,
  frame INTEGER NOT NULL,
  onward TEXT NOT NULL CHECK (onward IN ('linear', 'smooth', 'hold')),
  feather_inside REAL NOT NULL CHECK (feather_inside >= 0),
  feather_outside REAL NOT NULL CHECK (feather_outside >= 0),
  spread REAL NOT NULL,
  roundness REAL NOT NULL CHECK (roundness >= 0),
  factors TEXT NOT NULL,
  UNIQUE (outline_id, frame)
) STRICT;
CREATE INDEX edge_of_crossing ON edge (crossing_id);

ALTER TABLE crossing ADD COLUMN blend TEXT NOT NULL DEFAULT 'display'
  CHECK (blend IN ('display', 'linear sRGB', 'linear BT.709'));

-- The colour by which a layer is keyed; the id is the layer's.
CREATE TABLE key (
  id TEXT PRIMARY KEY REFERENCES layer (id) DEFERRABLE INITIALLY DEFERRED,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  cb REAL NOT NULL CHECK (cb BETWEEN 0 AND 255),
  cr REAL NOT NULL CHECK (cr BETWEEN 0 AND 255),
  tolerance REAL NOT NULL CHECK (tolerance >= 0),
  softness REAL NOT NULL CHECK (softness >= 0),
  grow REAL NOT NULL,
  clean REAL NOT NULL CHECK (clean >= 0),
  spill REAL NOT NULL CHECK (spill BETWEEN 0 AND 100)
) STRICT;
CREATE INDEX key_of_crossing ON key (crossing_id);
