-- A render order has titles; "unit" is a unit of measure alone.
ALTER TABLE units RENAME TO titles;
DROP INDEX units_by_state;
CREATE INDEX titles_by_state ON titles (state, output, row);

-- Schema 5 of the document calls a text's characters, words and lines its segments: so do the moves made from it.
UPDATE moves SET move = json_remove(
  json_set(move, '$.arrival.segments', json_extract(move, '$.arrival.units')),
  '$.arrival.units'
) WHERE json_type(move, '$.arrival.units') = 'object';
