-- What a person set beside a row's cells: texts of its own, a note, off, frames, a version. As JSON.
ALTER TABLE rows ADD COLUMN beside TEXT NOT NULL DEFAULT '{}';
ALTER TABLE units ADD COLUMN beside TEXT NOT NULL DEFAULT '{}';

-- Pictures that came with a sheet, by the names that its rows call them.
CREATE TABLE sheet_pictures (
  sheet INTEGER NOT NULL REFERENCES sheets (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  sha256 TEXT NOT NULL REFERENCES assets (sha256),
  PRIMARY KEY (sheet, name)
) STRICT, WITHOUT ROWID;
-- As they were when the output was ordered.
ALTER TABLE outputs ADD COLUMN pictures TEXT NOT NULL DEFAULT '[]';

-- The file or feed that a sheet's rows follow; null: they are its own. As JSON.
ALTER TABLE sheets ADD COLUMN link TEXT;
-- The revision at which rows last changed their places: what stands beside a row of a linked sheet may be set on any
-- revision since.
ALTER TABLE sheets ADD COLUMN placed INTEGER NOT NULL DEFAULT 1;
