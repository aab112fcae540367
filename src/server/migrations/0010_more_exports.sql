-- Cut-outs, mattes and numbered pictures: which formats there are, the code says.
CREATE TABLE export_of_any_format (
  id TEXT PRIMARY KEY,
  crossing_id TEXT REFERENCES crossing (id) ON DELETE SET NULL,
  crossing_name TEXT NOT NULL,
  revision INTEGER NOT NULL,
  format TEXT NOT NULL,
  file_name TEXT NOT NULL UNIQUE,
  byte_size INTEGER NOT NULL CHECK (byte_size > 0),
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  rate_num INTEGER NOT NULL,
  rate_den INTEGER NOT NULL,
  frame_count INTEGER NOT NULL,
  created_at TEXT NOT NULL
) STRICT;
INSERT INTO export_of_any_format SELECT * FROM export;
DROP TABLE export;
ALTER TABLE export_of_any_format RENAME TO export;
