-- Which column fills which field, as a person last set it for sheets with these columns, for the next such sheet.
-- `version` tells which fields there were: one without a column was left so, one that came later was never asked.
CREATE TABLE matches (
  template TEXT NOT NULL REFERENCES templates (id) ON DELETE CASCADE,
  columns TEXT NOT NULL,
  version INTEGER NOT NULL REFERENCES versions (id) ON DELETE CASCADE,
  match TEXT NOT NULL,
  PRIMARY KEY (template, columns)
) STRICT, WITHOUT ROWID;
