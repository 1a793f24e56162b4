-- Lines of a bank that were taken in, by what the bank calls them or by their text, or that wait for a decision.
CREATE TABLE bank_line (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    account TEXT NOT NULL REFERENCES account (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    date TEXT NOT NULL,
    amount INTEGER NOT NULL,
    bank_id TEXT,
    text TEXT NOT NULL DEFAULT '',
    waiting INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX bank_line_account ON bank_line (account, date);
CREATE INDEX bank_line_waiting ON bank_line (waiting) WHERE waiting;

-- Into which account a bank's number was taken last: of the number only a hash and its end.
CREATE TABLE bank_account (
    seq INTEGER PRIMARY KEY,
    hash TEXT NOT NULL UNIQUE,
    last_four TEXT NOT NULL,
    account TEXT NOT NULL REFERENCES account (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
);

-- Which column is what in tables with a header, as a person named them.
CREATE TABLE table_shape (seq INTEGER PRIMARY KEY, shape TEXT NOT NULL UNIQUE, columns TEXT NOT NULL);

-- The bank's lines that an entry is, as a JSON list; empty where it is none.
ALTER TABLE entry ADD COLUMN bank_ids TEXT NOT NULL DEFAULT '';

-- The household's rules for what is new, as the JSON of their documents.
ALTER TABLE household ADD COLUMN payee_rules TEXT NOT NULL DEFAULT '[]';

-- How many days before an occurrence the calendar rings; null: it does not.
ALTER TABLE flow ADD COLUMN alarm_days INTEGER;

-- The secret in the address of the calendar feed; no row: there is no feed.
CREATE TABLE calendar_feed (secret TEXT NOT NULL);
