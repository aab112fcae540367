CREATE TABLE shot (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  original_name TEXT NOT NULL,
  file_name TEXT NOT NULL UNIQUE,
  byte_size INTEGER NOT NULL CHECK (byte_size > 0),
  container TEXT NOT NULL,
  codec TEXT NOT NULL,
  width INTEGER NOT NULL CHECK (width > 0),
  height INTEGER NOT NULL CHECK (height > 0),
  rotation INTEGER NOT NULL CHECK (rotation IN (0, 90, 180, 270)),
  rate_num INTEGER NOT NULL CHECK (rate_num > 0),
  rate_den INTEGER NOT NULL CHECK (rate_den > 0),
  constant_rate INTEGER NOT NULL,
  frame_count INTEGER NOT NULL CHECK (frame_count > 0),
  duration REAL NOT NULL,
  colour_matrix TEXT NOT NULL CHECK (colour_matrix IN ('bt601', 'bt709', 'bt2020')),
  full_range INTEGER NOT NULL,
  has_sound INTEGER NOT NULL,
  -- The frame index: seconds as little-endian float64, key frame numbers as little-endian uint32.
  timestamps BLOB NOT NULL,
  key_frames BLOB NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE crossing (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  plan TEXT NOT NULL,
  width INTEGER NOT NULL CHECK (width > 0),
  height INTEGER NOT NULL CHECK (height > 0),
  rate_num INTEGER NOT NULL CHECK (rate_num > 0),
  rate_den INTEGER NOT NULL CHECK (rate_den > 0),
  length INTEGER NOT NULL CHECK (length > 0),
  -- Counts the edits, undos and redos that were written.
  revision INTEGER NOT NULL DEFAULT 0,
  created_at TEXT NOT NULL,
  updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE layer (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  role TEXT NOT NULL CHECK (role IN ('outgoing', 'incoming', 'passing')),
  shot_id TEXT NOT NULL REFERENCES shot (id),
  position INTEGER NOT NULL,
  frame_offset INTEGER NOT NULL
) STRICT;
CREATE INDEX layer_of_crossing ON layer (crossing_id);
CREATE INDEX layer_of_shot ON layer (shot_id);

CREATE TABLE outline (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  layer_id TEXT NOT NULL REFERENCES layer (id) DEFERRABLE INITIALLY DEFERRED,
  name TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('seam', 'loop')),
  swept_side TEXT NOT NULL CHECK (swept_side IN ('left', 'right')),
  position INTEGER NOT NULL,
  points TEXT NOT NULL,
  feather_side TEXT NOT NULL CHECK (feather_side IN ('inside', 'outside', 'both')),
  feather REAL NOT NULL CHECK (feather >= 0),
  spread REAL NOT NULL
) STRICT;
CREATE INDEX outline_of_crossing ON outline (crossing_id);

CREATE TABLE pose (
  outline_id TEXT NOT NULL REFERENCES outline (id) DEFERRABLE INITIALLY DEFERRED,
  frame INTEGER NOT NULL,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  origin TEXT NOT NULL CHECK (origin IN ('by hand', 'carried', 'settled')),
  coordinates TEXT NOT NULL,
  PRIMARY KEY (outline_id, frame)
) STRICT, WITHOUT ROWID;
CREATE INDEX pose_of_crossing ON pose (crossing_id);

-- What was done, in order; an undone edit stays until something new is done.
CREATE TABLE edit (
  sequence INTEGER PRIMARY KEY AUTOINCREMENT,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  id TEXT NOT NULL UNIQUE,
  label TEXT NOT NULL,
  changes TEXT NOT NULL,
  inverse TEXT NOT NULL,
  undone INTEGER NOT NULL DEFAULT 0,
  created_at TEXT NOT NULL
) STRICT;
CREATE INDEX edit_of_crossing ON edit (crossing_id, sequence);

-- Requests already carried out, so that one sent twice is carried out once.
CREATE TABLE request (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE export (
  id TEXT PRIMARY KEY,
  crossing_id TEXT REFERENCES crossing (id) ON DELETE SET NULL,
  crossing_name TEXT NOT NULL,
  revision INTEGER NOT NULL,
  format TEXT NOT NULL CHECK (format IN ('webm', 'mp4')),
  file_name TEXT NOT NULL UNIQUE,
  byte_size INTEGER NOT NULL CHECK (byte_size > 0),
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  rate_num INTEGER NOT NULL,
  rate_den INTEGER NOT NULL,
  frame_count INTEGER NOT NULL,
  created_at TEXT NOT NULL
) STRICT;
