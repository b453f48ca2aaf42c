-- Rows are one sheet's, not a preset's: kept with it, they would have chosen rows of every other sheet.
UPDATE presets SET settings = json_remove(settings, '$.rows');
