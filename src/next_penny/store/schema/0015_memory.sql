-- What was expected, as the plan stood when its day passed (docs/rules.md, Expected and actual). No row changes but by
-- restoring or replacing the household; a number is never used twice, so that undoing that finds its rows.
CREATE TABLE expected (
    seq INTEGER PRIMARY KEY AUTOINCREMENT,
    source TEXT NOT NULL, -- a flow's id, or an allowance's
    is_allowance INTEGER NOT NULL,
    nominal TEXT NOT NULL,
    lands TEXT NOT NULL,
    name TEXT NOT NULL,
    kind TEXT NOT NULL,
    legs TEXT NOT NULL, -- JSON, as in the plan document
    limit_amount INTEGER,
    categories TEXT NOT NULL,
    account TEXT
);
CREATE INDEX expected_lands ON expected (lands);
CREATE INDEX expected_key ON expected (source, nominal);

-- The day up to which it was written down.
CREATE TABLE expected_until (day TEXT);
INSERT INTO expected_until (day) VALUES (NULL);

-- A payment in part names the occurrence that it is a part of, and does not settle it.
ALTER TABLE entry ADD COLUMN part INTEGER NOT NULL DEFAULT 0;

-- What a category was merged into: what was expected of it is shown there.
ALTER TABLE category ADD COLUMN merged_into TEXT;
