-- What-ifs that are kept, as the JSON of the plan document.
ALTER TABLE household ADD COLUMN what_ifs TEXT NOT NULL DEFAULT '[]';
