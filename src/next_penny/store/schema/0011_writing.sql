-- How the household writes amounts and dates, and on which day its weeks begin; null: as in its country.
ALTER TABLE household ADD COLUMN notation TEXT;
ALTER TABLE household ADD COLUMN week_starts TEXT;
ALTER TABLE household ADD COLUMN date_order TEXT;
