-- What accounts do by themselves, as the JSON of the plan document; each is read and written as one.
ALTER TABLE account ADD COLUMN card TEXT;
ALTER TABLE account ADD COLUMN savings TEXT;
ALTER TABLE account ADD COLUMN sweep TEXT;
