-- What an editor works on: a show, with the sheets and templates that belong to it.
CREATE TABLE productions (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  created TEXT NOT NULL
) STRICT;
CREATE TABLE production_templates (
  production INTEGER NOT NULL REFERENCES productions (id) ON DELETE CASCADE,
  template TEXT NOT NULL REFERENCES templates (id) ON DELETE CASCADE,
  PRIMARY KEY (production, template)
) STRICT, WITHOUT ROWID;
ALTER TABLE sheets ADD COLUMN production INTEGER REFERENCES productions (id) ON DELETE SET NULL;
INSERT INTO given VALUES ('production', 0);
