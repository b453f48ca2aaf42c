-- Of an output that keeps a folder current: the revision of its sheet that it was last ordered from.
ALTER TABLE outputs ADD COLUMN revision INTEGER;
