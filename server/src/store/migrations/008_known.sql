-- A sheet that knows how names are spelled.
ALTER TABLE sheets ADD COLUMN known INTEGER NOT NULL DEFAULT 0;
