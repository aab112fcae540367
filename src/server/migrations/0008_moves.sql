-- What a layer, or the whole picture, does at one crossing frame.
CREATE TABLE move (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  owner_id TEXT NOT NULL,
  channel TEXT NOT NULL CHECK (channel IN ('place', 'size', 'turn', 'opacity')),
  frame INTEGER NOT NULL CHECK (frame >= 0),
  onward TEXT NOT NULL CHECK (onward IN ('linear', 'smooth', 'eased', 'hold')),
  ease TEXT NOT NULL,
  value REAL NOT NULL,
  second REAL NOT NULL
) STRICT;
CREATE INDEX move_of_crossing ON move (crossing_id);

-- Speed by keys.
ALTER TABLE layer ADD COLUMN ramp TEXT NOT NULL DEFAULT '[]';
ALTER TABLE layer ADD COLUMN ramp_at INTEGER NOT NULL DEFAULT 0 CHECK (ramp_at >= 0);
ALTER TABLE layer ADD COLUMN ramp_round INTEGER NOT NULL DEFAULT 0 CHECK (ramp_round BETWEEN 0 AND 200);
