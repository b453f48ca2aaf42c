CREATE TABLE templates (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  draft TEXT NOT NULL,
  revision INTEGER NOT NULL,
  created TEXT NOT NULL,
  changed TEXT NOT NULL
) STRICT;

-- Files lie beside the database under their SHA-256; this table says what each one is.
CREATE TABLE assets (
  sha256 TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('font', 'picture', 'document')),
  name TEXT NOT NULL,
  size INTEGER NOT NULL,
  info TEXT NOT NULL
) STRICT;

CREATE TABLE versions (
  id INTEGER PRIMARY KEY,
  template TEXT NOT NULL REFERENCES templates (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  -- The document lies among the assets under its own SHA-256.
  document TEXT NOT NULL REFERENCES assets (sha256),
  note TEXT NOT NULL,
  created TEXT NOT NULL,
  UNIQUE (template, number)
) STRICT;
CREATE TRIGGER versions_never_change BEFORE UPDATE ON versions BEGIN
  SELECT RAISE(ABORT, 'A published version never changes.');
END;

CREATE TABLE sheets (
  id INTEGER PRIMARY KEY,
  version INTEGER NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  columns TEXT NOT NULL,
  match TEXT NOT NULL,
  revision INTEGER NOT NULL,
  created TEXT NOT NULL,
  changed TEXT NOT NULL
) STRICT;

CREATE TABLE rows (
  sheet INTEGER NOT NULL REFERENCES sheets (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  cells TEXT NOT NULL,
  PRIMARY KEY (sheet, position)
) STRICT, WITHOUT ROWID;

CREATE TABLE outputs (
  id INTEGER PRIMARY KEY,
  sheet INTEGER NOT NULL REFERENCES sheets (id) ON DELETE CASCADE,
  settings TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('running', 'done', 'stopped')),
  created TEXT NOT NULL,
  ended TEXT
) STRICT;

-- One title of an output. `cells` and `match` are as they were when it was ordered.
CREATE TABLE units (
  output INTEGER NOT NULL REFERENCES outputs (id) ON DELETE CASCADE,
  row INTEGER NOT NULL,
  cells TEXT NOT NULL,
  name TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'held', 'failed', 'stopped')),
  reason TEXT NOT NULL DEFAULT '',
  attempts INTEGER NOT NULL DEFAULT 0,
  result TEXT,
  found INTEGER NOT NULL DEFAULT 0,
  milliseconds INTEGER,
  PRIMARY KEY (output, row)
) STRICT, WITHOUT ROWID;
CREATE INDEX units_by_state ON units (state, output, row);
