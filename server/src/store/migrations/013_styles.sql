-- Styles that designers gave a name, for every template, each with the colours, fonts and pictures that it uses.
CREATE TABLE styles (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  style TEXT NOT NULL,
  created TEXT NOT NULL
) STRICT;
INSERT INTO given VALUES ('style', 0);
