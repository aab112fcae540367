-- Keys of corners, blur, colour and leaves: which channels there are, and their bounds, the document's description says.
CREATE TABLE move_of_any_channel (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  owner_id TEXT NOT NULL,
  channel TEXT NOT NULL,
  frame INTEGER NOT NULL CHECK (frame >= 0),
  onward TEXT NOT NULL CHECK (onward IN ('linear', 'smooth', 'eased', 'hold')),
  ease TEXT NOT NULL,
  value REAL NOT NULL,
  second REAL NOT NULL,
  third REAL NOT NULL DEFAULT 0
) STRICT;
INSERT INTO move_of_any_channel (id, crossing_id, owner_id, channel, frame, onward, ease, value, second)
  SELECT id, crossing_id, owner_id, channel, frame, onward, ease, value, second FROM move;
DROP TABLE move;
ALTER TABLE move_of_any_channel RENAME TO move;
CREATE INDEX move_of_crossing ON move (crossing_id);

-- Blur of what moves.
ALTER TABLE crossing ADD COLUMN move_shutter REAL NOT NULL DEFAULT 0 CHECK (move_shutter BETWEEN 0 AND 720);

-- Leaves that swing.
ALTER TABLE outline ADD COLUMN hinge TEXT;
ALTER TABLE outline ADD COLUMN inwards INTEGER NOT NULL DEFAULT 1 CHECK (inwards IN (0, 1));
ALTER TABLE outline ADD COLUMN camera REAL NOT NULL DEFAULT 1.5 CHECK (camera > 0);
