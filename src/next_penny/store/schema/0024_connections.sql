-- A bank, a mailbox or a provider of rates that is asked for what is new. `key` is a secret: it is no matter of undo.
CREATE TABLE service (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    kind TEXT NOT NULL,
    address TEXT NOT NULL,
    key TEXT NOT NULL DEFAULT '',
    until TEXT,
    daily INTEGER NOT NULL DEFAULT 0,
    asked TEXT,
    said TEXT NOT NULL DEFAULT '',
    problem TEXT NOT NULL DEFAULT ''
);

-- Where in a sender's messages an account's balance stands.
CREATE TABLE notice_pattern (
    seq INTEGER PRIMARY KEY,
    sender TEXT NOT NULL UNIQUE,
    account TEXT NOT NULL REFERENCES account (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
    before TEXT NOT NULL,
    after TEXT NOT NULL,
    owed INTEGER NOT NULL DEFAULT 0,
    decimal TEXT NOT NULL DEFAULT ''
);

-- Messages whose balance was taken.
CREATE TABLE notice_taken (seq INTEGER PRIMARY KEY, message TEXT NOT NULL UNIQUE);
