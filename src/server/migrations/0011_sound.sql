-- Sound files brought in.
CREATE TABLE sound (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  original_name TEXT NOT NULL,
  file_name TEXT NOT NULL UNIQUE,
  byte_size INTEGER NOT NULL CHECK (byte_size > 0),
  container TEXT NOT NULL,
  codec TEXT NOT NULL,
  sample_rate INTEGER NOT NULL CHECK (sample_rate > 0),
  channels INTEGER NOT NULL CHECK (channels > 0),
  -- Samples at 48 kHz.
  length INTEGER NOT NULL CHECK (length > 0),
  -- Seconds of the file before its sound begins.
  lead REAL NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

-- Pieces of sound on a crossing's tracks: what they may be, the document's description says. A sound may be gone while
-- an edit that can be undone still names it.
CREATE TABLE piece (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  track INTEGER NOT NULL,
  source TEXT NOT NULL,
  source_id TEXT,
  start INTEGER NOT NULL,
  in_sample INTEGER NOT NULL CHECK (in_sample >= 0),
  length INTEGER NOT NULL CHECK (length > 0),
  level REAL NOT NULL,
  fade_in INTEGER NOT NULL,
  fade_out INTEGER NOT NULL,
  pan REAL NOT NULL,
  muted INTEGER NOT NULL,
  behind INTEGER NOT NULL,
  closed_level REAL NOT NULL,
  closed_low_pass REAL NOT NULL,
  ring REAL NOT NULL,
  bend TEXT NOT NULL,
  crossfade TEXT NOT NULL,
  crossfade_by_time INTEGER NOT NULL,
  maker TEXT NOT NULL,
  made_length INTEGER NOT NULL,
  height REAL NOT NULL,
  brightness REAL NOT NULL,
  loudest_at REAL NOT NULL,
  seed INTEGER NOT NULL
) STRICT;
CREATE INDEX piece_of_crossing ON piece (crossing_id);
CREATE INDEX piece_of_source ON piece (source_id);

-- The sound of an export: none, or its loudness.
ALTER TABLE export ADD COLUMN sound TEXT NOT NULL DEFAULT 'none';
