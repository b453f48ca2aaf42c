-- Which column fills which field, as a person last set it for sheets with these columns, for the next such sheet.
CREATE TABLE matches (
  template TEXT NOT NULL REFERENCES templates (id) ON DELETE CASCADE,
  columns TEXT NOT NULL,
  match TEXT NOT NULL,
  PRIMARY KEY (template, columns)
) STRICT, WITHOUT ROWID;
