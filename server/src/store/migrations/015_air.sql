-- Channels: places on air. A state, and the commands since; whoever carries those out has the state as it is.
CREATE TABLE channels (
  -- As it stands in addresses.
  name TEXT PRIMARY KEY,
  title TEXT NOT NULL,
  production INTEGER REFERENCES productions (id) ON DELETE SET NULL,
  state TEXT NOT NULL,
  created TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE channel_commands (
  channel TEXT NOT NULL REFERENCES channels (name) ON DELETE CASCADE,
  n INTEGER NOT NULL,
  -- Of the channel, counted from the epoch.
  frame INTEGER NOT NULL,
  command TEXT NOT NULL,
  PRIMARY KEY (channel, n)
) STRICT, WITHOUT ROWID;
-- What was on air when.
CREATE TABLE as_run (
  id INTEGER PRIMARY KEY,
  channel TEXT NOT NULL REFERENCES channels (name) ON DELETE CASCADE,
  -- The command that took the title, and which of the running list it was.
  n INTEGER NOT NULL,
  item TEXT NOT NULL,
  at TEXT NOT NULL,
  layer TEXT NOT NULL,
  what TEXT NOT NULL,
  words TEXT NOT NULL,
  template TEXT NOT NULL,
  version INTEGER NOT NULL,
  by_whom TEXT NOT NULL
) STRICT;
CREATE INDEX as_run_by_channel ON as_run (channel, id);
-- A title leaves once.
CREATE UNIQUE INDEX as_run_left ON as_run (channel, n, item) WHERE what IN ('out', 'cut');
