-- The day from which something is expected: since the household knew of it. None: it always did.
ALTER TABLE flow ADD COLUMN known_since TEXT;
ALTER TABLE account ADD COLUMN known_since TEXT;
ALTER TABLE allowance ADD COLUMN known_since TEXT;
