-- What the first draft of a crossing has decided, or could not, and what that rests on.
CREATE TABLE decision (
  id TEXT PRIMARY KEY,
  crossing_id TEXT NOT NULL REFERENCES crossing (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  step TEXT NOT NULL,
  what TEXT NOT NULL,
  basis TEXT NOT NULL,
  sure TEXT NOT NULL CHECK (sure IN ('sure', 'likely', 'open'))
) STRICT;
CREATE INDEX decision_of_crossing ON decision (crossing_id);
