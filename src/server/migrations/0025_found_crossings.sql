-- What crosses in a shot, as it was looked through (JSON: see core/find/crossings.ts). Empty: nobody has looked.
ALTER TABLE shot ADD COLUMN found TEXT;
