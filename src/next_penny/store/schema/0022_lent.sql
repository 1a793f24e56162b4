-- To whom money was lent, and how it comes back, as the JSON of its document.
ALTER TABLE account ADD COLUMN lent TEXT;
