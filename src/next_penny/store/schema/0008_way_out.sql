-- The way out of debt that was adopted, as the JSON of the plan document; null while there is none.
ALTER TABLE household ADD COLUMN way_out TEXT;
