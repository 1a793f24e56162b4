-- The day on which the household wrote an entry down, which is not the day on which the money moved.
ALTER TABLE entry ADD COLUMN recorded_on TEXT;
CREATE INDEX entry_recorded_on ON entry (recorded_on) WHERE recorded_on IS NOT NULL;
