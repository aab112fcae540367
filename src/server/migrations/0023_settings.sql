-- What a person has set for all crossings, as how exported files are called.
CREATE TABLE setting (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
