-- A layer's own name, so that two of one shot can be told apart; and the layer that a person has chosen to trace on.
ALTER TABLE layer ADD COLUMN name TEXT;
ALTER TABLE layer ADD COLUMN traced INTEGER NOT NULL DEFAULT 0;
