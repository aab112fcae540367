-- In-betweens may be eased. SQLite changes a check only by building the table anew.
CREATE TABLE pose_eased (
  outline_id TEXT NOT NULL REFERENCES outline (id) DEFERRABLE INITIALLY DEFERRED,
  frame INTEGER NOT NULL,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  origin TEXT NOT NULL CHECK (origin IN ('by hand', 'carried', 'settled')),
  onward TEXT NOT NULL DEFAULT 'linear' CHECK (onward IN ('linear', 'smooth', 'eased', 'hold')),
  coordinates TEXT NOT NULL,
  PRIMARY KEY (outline_id, frame)
) STRICT, WITHOUT ROWID;
INSERT INTO pose_eased (outline_id, frame, crossing_id, origin, onward, coordinates)
  SELECT outline_id, frame, crossing_id, origin, onward, coordinates FROM pose;
DROP TABLE pose;
ALTER TABLE pose_eased RENAME TO pose;
CREATE INDEX pose_of_crossing ON pose (crossing_id);

CREATE TABLE edge_eased (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  outline_id TEXT NOT NULL REFERENCES outline (id) DEFERRABLE INITIALLY DEFERRED,
  frame INTEGER NOT NULL,
  onward TEXT NOT NULL CHECK (onward IN ('linear', 'smooth', 'eased', 'hold')),
  feather_inside REAL NOT NULL CHECK (feather_inside >= 0),
  feather_outside REAL NOT NULL CHECK (feather_outside >= 0),
  spread REAL NOT NULL,
  roundness REAL NOT NULL CHECK (roundness >= 0),
  factors TEXT NOT NULL,
  UNIQUE (outline_id, frame)
) STRICT;
INSERT INTO edge_eased (id, crossing_id, outline_id, frame, onward, feather_inside, feather_outside, spread, roundness, factors)
  SELECT id, crossing_id, outline_id, frame, onward, feather_inside, feather_outside, spread, roundness, factors FROM edge;
DROP TABLE edge;
ALTER TABLE edge_eased RENAME TO edge;
CREATE INDEX edge_of_crossing ON edge (crossing_id);
