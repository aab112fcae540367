-- A keyed colour is called chroma; a key is a moment in time with a value.
ALTER TABLE key RENAME TO chroma;
DROP INDEX key_of_crossing;
CREATE INDEX chroma_of_crossing ON chroma (crossing_id);
