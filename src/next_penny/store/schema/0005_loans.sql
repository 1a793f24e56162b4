-- A loan's terms, as the JSON of the plan document; they are read and written as one.
ALTER TABLE account ADD COLUMN loan TEXT;
