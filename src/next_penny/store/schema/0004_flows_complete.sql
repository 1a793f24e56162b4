-- What was still missing of flows, categories and entries: see docs/rules.md. Decimals are text.

ALTER TABLE category ADD COLUMN icon TEXT NOT NULL DEFAULT '';
ALTER TABLE category ADD COLUMN retired INTEGER NOT NULL DEFAULT 0;

ALTER TABLE flow ADD COLUMN follows INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flow ADD COLUMN always_happens INTEGER NOT NULL DEFAULT 0;
ALTER TABLE flow ADD COLUMN hourly_rate INTEGER;
ALTER TABLE flow ADD COLUMN hourly_share TEXT;
ALTER TABLE flow ADD COLUMN hourly_hours TEXT;
ALTER TABLE flow ADD COLUMN goal_name TEXT;
ALTER TABLE flow ADD COLUMN goal_amount INTEGER;
ALTER TABLE flow ADD COLUMN goal_by TEXT;
ALTER TABLE flow ADD COLUMN goal_flow TEXT REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED;

ALTER TABLE flow_revision ADD COLUMN from_account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE flow_revision ADD COLUMN to_account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE flow_revision ADD COLUMN category TEXT REFERENCES category (id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE flow_revision ADD COLUMN hourly_rate INTEGER;
ALTER TABLE flow_revision ADD COLUMN hourly_share TEXT;
ALTER TABLE flow_revision ADD COLUMN hourly_hours TEXT;
ALTER TABLE flow_change ADD COLUMN hours TEXT;

-- Tags are lines of one text. A receipt is a file of `receipt_file`, which undo leaves alone: its content names it.
ALTER TABLE entry ADD COLUMN tags TEXT NOT NULL DEFAULT '';
ALTER TABLE entry ADD COLUMN receipt TEXT;
ALTER TABLE entry ADD COLUMN receipt_name TEXT;
CREATE TABLE receipt_file (
    sha256 TEXT PRIMARY KEY,
    media_type TEXT NOT NULL,
    content BLOB NOT NULL,
    stored_on TEXT NOT NULL
);

-- Repeating payments that were offered as flows and declined, by what names them.
CREATE TABLE declined_candidate (key TEXT PRIMARY KEY);
