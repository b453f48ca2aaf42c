-- Sounds lie among the assets too. Foreign keys are off while a migration runs and checked behind it.
CREATE TABLE assets_now (
  sha256 TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('font', 'picture', 'sound', 'document')),
  name TEXT NOT NULL,
  size INTEGER NOT NULL,
  info TEXT NOT NULL
) STRICT;
INSERT INTO assets_now SELECT sha256, kind, name, size, info FROM assets;
DROP TABLE assets;
ALTER TABLE assets_now RENAME TO assets;

-- Where a template stands on the shelf. `origin` is the id it came with, which its package keeps.
ALTER TABLE templates ADD COLUMN folder TEXT NOT NULL DEFAULT '';
ALTER TABLE templates ADD COLUMN archived TEXT;
ALTER TABLE templates ADD COLUMN origin TEXT;

-- What took the place of a font that a package lacked, for the next time.
CREATE TABLE fonts_instead (
  family TEXT NOT NULL,
  style TEXT NOT NULL,
  sha256 TEXT NOT NULL REFERENCES assets (sha256),
  PRIMARY KEY (family, style)
) STRICT, WITHOUT ROWID;

-- An output stays on the version and the match that its sheet had when it was ordered.
ALTER TABLE outputs ADD COLUMN version INTEGER REFERENCES versions (id) ON DELETE CASCADE;
ALTER TABLE outputs ADD COLUMN match TEXT NOT NULL DEFAULT '{}';
UPDATE outputs SET
  version = (SELECT version FROM sheets WHERE sheets.id = outputs.sheet),
  match = (SELECT match FROM sheets WHERE sheets.id = outputs.sheet);
