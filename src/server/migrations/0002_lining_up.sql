-- Layers get their time map, their placement and their way of being cut; marks; what is known of footage.
ALTER TABLE crossing ADD COLUMN in_frame INTEGER NOT NULL DEFAULT 0;
ALTER TABLE crossing ADD COLUMN out_frame INTEGER;

ALTER TABLE layer ADD COLUMN speed REAL NOT NULL DEFAULT 100 CHECK (speed BETWEEN 25 AND 800);
ALTER TABLE layer ADD COLUMN reverse INTEGER NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN hold_from INTEGER;
ALTER TABLE layer ADD COLUMN trim_in INTEGER;
ALTER TABLE layer ADD COLUMN trim_out INTEGER;
ALTER TABLE layer ADD COLUMN visible INTEGER NOT NULL DEFAULT 1;
ALTER TABLE layer ADD COLUMN keeps INTEGER NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN fit TEXT NOT NULL DEFAULT 'fill' CHECK (fit IN ('fill', 'fit', 'exact'));
ALTER TABLE layer ADD COLUMN flip INTEGER NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN x REAL NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN y REAL NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN scale REAL NOT NULL DEFAULT 100 CHECK (scale > 0);
ALTER TABLE layer ADD COLUMN turn REAL NOT NULL DEFAULT 0;
ALTER TABLE layer ADD COLUMN steady REAL NOT NULL DEFAULT 0 CHECK (steady BETWEEN 0 AND 100);

-- The layer that an outline cuts, where that is not the one it is traced on.
ALTER TABLE outline ADD COLUMN cuts_layer_id TEXT REFERENCES layer (id) DEFERRABLE INITIALLY DEFERRED;

CREATE TABLE mark (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  frame INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('mark', 'opens', 'closes')),
  name TEXT NOT NULL
) STRICT;
CREATE INDEX mark_of_crossing ON mark (crossing_id);

ALTER TABLE shot ADD COLUMN kind TEXT NOT NULL DEFAULT 'video' CHECK (kind IN ('video', 'stills'));
ALTER TABLE shot ADD COLUMN notes TEXT NOT NULL DEFAULT '';
ALTER TABLE shot ADD COLUMN keep_sound INTEGER NOT NULL DEFAULT 0;
-- What was done to it on the way in, in a sentence.
ALTER TABLE shot ADD COLUMN treatment TEXT NOT NULL DEFAULT '';
ALTER TABLE shot ADD COLUMN square_pixels INTEGER NOT NULL DEFAULT 1;
-- Global motion: float32 × 6 a frame (dx, dy, scale, turn, trust, object’s share), and the object's extent.
ALTER TABLE shot ADD COLUMN motion TEXT;
ALTER TABLE shot ADD COLUMN work_file_name TEXT;
ALTER TABLE shot ADD COLUMN work_timestamps BLOB;
ALTER TABLE shot ADD COLUMN work_key_frames BLOB;

-- A file on its way in, in pieces; it survives a dropped connection and a restart.
CREATE TABLE upload (
  id TEXT PRIMARY KEY,
  fingerprint TEXT NOT NULL,
  name TEXT NOT NULL,
  byte_size INTEGER NOT NULL CHECK (byte_size > 0),
  rate_num INTEGER NOT NULL,
  rate_den INTEGER NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

-- Work for ffmpeg: making a file that the browser decodes, or a copy that steps quickly.
CREATE TABLE job (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('convert', 'work copy')),
  shot_id TEXT REFERENCES shot (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  file_name TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'failed')),
  reason TEXT NOT NULL,
  done_frames INTEGER NOT NULL DEFAULT 0,
  all_frames INTEGER NOT NULL DEFAULT 0,
  message TEXT NOT NULL DEFAULT '',
  created_at TEXT NOT NULL
) STRICT;
