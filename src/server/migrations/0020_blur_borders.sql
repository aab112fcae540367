-- What a blur shows beyond the borders of a shot that are not seen themselves. Until now nothing, which made them translucent.
ALTER TABLE crossing ADD COLUMN blur_border TEXT NOT NULL DEFAULT 'extend';
