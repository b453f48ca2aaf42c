-- Moves that designers made of their own keys; every template may use them.
CREATE TABLE moves (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  move TEXT NOT NULL,
  created TEXT NOT NULL
) STRICT;
