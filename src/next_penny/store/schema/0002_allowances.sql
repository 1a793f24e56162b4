-- Allowances: limits per period on categories. Dates are ISO 8601 text; amounts are integers of minor units.

CREATE TABLE allowance (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    name TEXT NOT NULL,
    limit_amount INTEGER NOT NULL,
    account TEXT NOT NULL REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED,
    period TEXT NOT NULL,
    week_starts INTEGER NOT NULL,
    timing TEXT NOT NULL,
    carry TEXT NOT NULL,
    start TEXT,
    until TEXT
);

CREATE TABLE allowance_category (
    seq INTEGER PRIMARY KEY,
    allowance TEXT NOT NULL REFERENCES allowance (id) DEFERRABLE INITIALLY DEFERRED,
    category TEXT NOT NULL REFERENCES category (id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX allowance_category_allowance ON allowance_category (allowance);
CREATE INDEX allowance_category_category ON allowance_category (category);

CREATE TABLE allowance_revision (
    seq INTEGER PRIMARY KEY,
    allowance TEXT NOT NULL REFERENCES allowance (id) DEFERRABLE INITIALLY DEFERRED,
    start TEXT NOT NULL,
    limit_amount INTEGER NOT NULL
);
CREATE INDEX allowance_revision_allowance ON allowance_revision (allowance);
