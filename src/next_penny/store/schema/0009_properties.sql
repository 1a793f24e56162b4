-- How a flow may be changed when money runs short; what it is for a property, and the lenders' statements that were checked, as the JSON of the plan document.
ALTER TABLE flow ADD COLUMN property TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE flow ADD COLUMN purpose TEXT;
ALTER TABLE flow ADD COLUMN late_days INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flow ADD COLUMN may_skip INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flow ADD COLUMN may_pause INTEGER NOT NULL DEFAULT 0;
ALTER TABLE household ADD COLUMN statement_checks TEXT NOT NULL DEFAULT '[]';
