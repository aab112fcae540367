-- Strokes that say what an outline's subject is.
CREATE TABLE stroke (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  outline_id TEXT NOT NULL REFERENCES outline (id) DEFERRABLE INITIALLY DEFERRED,
  frame INTEGER NOT NULL CHECK (frame >= 0),
  position INTEGER NOT NULL CHECK (position >= 0),
  mark TEXT NOT NULL CHECK (mark IN ('this', 'not this', 'open')),
  radius REAL NOT NULL CHECK (radius > 0),
  path TEXT NOT NULL
) STRICT;
CREATE INDEX stroke_of_crossing ON stroke (crossing_id);
CREATE INDEX stroke_of_outline ON stroke (outline_id);

-- Outlines begun by strokes; parts and holes of a subject.
ALTER TABLE outline ADD COLUMN painted INTEGER NOT NULL DEFAULT 0 CHECK (painted IN (0, 1));
ALTER TABLE outline ADD COLUMN subject_id TEXT;
