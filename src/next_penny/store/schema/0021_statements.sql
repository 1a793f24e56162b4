-- A bank's statements of an account, each with the ids of the entries that were found on it, as a JSON list.
CREATE TABLE statement (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    account TEXT NOT NULL REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED,
    first TEXT NOT NULL,
    last TEXT NOT NULL,
    opening INTEGER NOT NULL,
    closing INTEGER NOT NULL,
    finished TEXT,
    entries TEXT NOT NULL
);
CREATE INDEX statement_account ON statement (account);

-- The number of a check or a slip, as it is printed.
ALTER TABLE entry ADD COLUMN number TEXT NOT NULL DEFAULT '';
CREATE INDEX entry_number ON entry (number) WHERE number <> '';
