-- Footage and stills that lie under titles are kept among the assets.
CREATE TABLE assets_now (
  sha256 TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('font', 'picture', 'sound', 'document', 'footage')),
  name TEXT NOT NULL,
  size INTEGER NOT NULL,
  info TEXT NOT NULL
) STRICT;
INSERT INTO assets_now SELECT sha256, kind, name, size, info FROM assets;
DROP TABLE assets;
ALTER TABLE assets_now RENAME TO assets;

-- An output is of a sheet's rows, or of a version's parts by themselves (then it has no sheet).
CREATE TABLE outputs_now (
  id INTEGER PRIMARY KEY,
  sheet INTEGER REFERENCES sheets (id) ON DELETE CASCADE,
  version INTEGER NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  match TEXT NOT NULL,
  pictures TEXT NOT NULL,
  settings TEXT NOT NULL,
  -- What it was rendered with: Hoja's and ffmpeg's versions. As JSON.
  used TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('running', 'paused', 'done', 'stopped')),
  -- Higher is earlier; 0 unless somebody said otherwise.
  priority INTEGER NOT NULL,
  created TEXT NOT NULL,
  ended TEXT
) STRICT;
INSERT INTO outputs_now
  SELECT id, sheet, version, match, pictures, settings, '{}', state, 0, created, ended FROM outputs;
DROP TABLE outputs;
ALTER TABLE outputs_now RENAME TO outputs;

-- The parts that a unit draws, as JSON; null: all.
ALTER TABLE units ADD COLUMN only TEXT;
ALTER TABLE units ADD COLUMN ended TEXT;

-- What happened to an output, for a person to read.
CREATE TABLE output_log (
  id INTEGER PRIMARY KEY,
  output INTEGER NOT NULL REFERENCES outputs (id) ON DELETE CASCADE,
  time TEXT NOT NULL,
  row INTEGER,
  text TEXT NOT NULL
) STRICT;
CREATE INDEX output_log_by_output ON output_log (output, id);

-- Settings that somebody gave a name.
CREATE TABLE presets (
  name TEXT PRIMARY KEY,
  settings TEXT NOT NULL,
  changed TEXT NOT NULL
) STRICT, WITHOUT ROWID;
