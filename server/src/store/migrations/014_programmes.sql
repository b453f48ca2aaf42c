-- Titles on the timeline of their footage: a document, edited like a draft.
CREATE TABLE programmes (
  id INTEGER PRIMARY KEY,
  production INTEGER REFERENCES productions (id) ON DELETE SET NULL,
  name TEXT NOT NULL,
  document TEXT NOT NULL,
  -- What lists tell of it, so that they need not read it. As JSON.
  about TEXT NOT NULL,
  revision INTEGER NOT NULL,
  created TEXT NOT NULL,
  changed TEXT NOT NULL
) STRICT;
INSERT INTO given VALUES ('programme', 0);
-- An output of a programme's titles; it has no sheet.
ALTER TABLE outputs ADD COLUMN programme INTEGER REFERENCES programmes (id) ON DELETE CASCADE;
