-- What is known of the whole folder: whether the demo data was ever put into it.
CREATE TABLE facts (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;
INSERT INTO facts SELECT 'seeded', 'before' WHERE EXISTS (SELECT 1 FROM assets);

-- The last number that was given, by what it was given to: none is given again, or a page that was left open would save
-- into what has got the number of what it shows.
CREATE TABLE given (kind TEXT PRIMARY KEY, last INTEGER NOT NULL) STRICT, WITHOUT ROWID;
INSERT INTO given VALUES
  ('version', (SELECT COALESCE(MAX(id), 0) FROM versions)),
  ('sheet', (SELECT COALESCE(MAX(id), 0) FROM sheets)),
  ('output', (SELECT COALESCE(MAX(id), 0) FROM outputs)),
  ('move', (SELECT COALESCE(MAX(id), 0) FROM moves));
CREATE TABLE given_names (id TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
INSERT INTO given_names SELECT id FROM templates;

-- What has to be known of a draft often, as JSON; null: nobody has looked yet.
ALTER TABLE templates ADD COLUMN about TEXT;

-- `state`: `arriving` while its rows come in, `leaving` while they go; neither is anybody's.
ALTER TABLE sheets ADD COLUMN count INTEGER NOT NULL DEFAULT 0;
ALTER TABLE sheets ADD COLUMN state TEXT NOT NULL DEFAULT 'here' CHECK (state IN ('arriving', 'here', 'leaving'));
UPDATE sheets SET count = (SELECT COUNT(*) FROM rows WHERE rows.sheet = sheets.id);
-- Rows stand apart, so that others find room between two without moving the rest. A row's number is its rank.
UPDATE rows SET position = position * 1073741824;

-- Since when nothing uses a file; null: something does, or nobody has looked.
ALTER TABLE assets ADD COLUMN unused TEXT;

-- What a version carries, its own document included; a version without any was not looked at yet.
CREATE TABLE version_files (
  version INTEGER NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  sha256 TEXT NOT NULL,
  PRIMARY KEY (version, sha256)
) STRICT, WITHOUT ROWID;
