-- The timecode of a shot's first frame: its number, what it counts in, whether in drop-frame. Empty: nobody has said.
ALTER TABLE shot ADD COLUMN timecode_start INTEGER;
ALTER TABLE shot ADD COLUMN timecode_num INTEGER;
ALTER TABLE shot ADD COLUMN timecode_den INTEGER;
ALTER TABLE shot ADD COLUMN timecode_drop INTEGER NOT NULL DEFAULT 0;
-- Bits a channel: deeper footage was made into 8 bits until now.
ALTER TABLE shot ADD COLUMN depth INTEGER NOT NULL DEFAULT 8;
-- Samples since midnight at the file's own rate with which a Broadcast Wave file begins.
ALTER TABLE sound ADD COLUMN time_reference INTEGER;
