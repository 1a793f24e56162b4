-- The household's plan and its recorded money. Dates are ISO 8601 text; amounts are integers of minor units.

CREATE TABLE household (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    name TEXT NOT NULL DEFAULT '',
    currency TEXT NOT NULL DEFAULT 'USD',
    country TEXT,
    past_due TEXT NOT NULL DEFAULT 'carry' CHECK (past_due IN ('carry', 'ignore'))
);
INSERT INTO household (id, country) VALUES (1, 'US');

CREATE TABLE account (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    name TEXT NOT NULL,
    kind TEXT NOT NULL,
    currency TEXT NOT NULL,
    opening_date TEXT NOT NULL,
    opening_balance INTEGER NOT NULL,
    floor INTEGER NOT NULL,
    cushion INTEGER NOT NULL,
    spendable INTEGER NOT NULL
);

CREATE TABLE category (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    name TEXT NOT NULL,
    group_name TEXT NOT NULL,
    kind TEXT NOT NULL
);

CREATE TABLE flow (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    name TEXT NOT NULL,
    kind TEXT NOT NULL,
    amount INTEGER NOT NULL,
    from_account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED,
    to_account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED,
    category TEXT REFERENCES category (id) DEFERRABLE INITIALLY DEFERRED,
    payee TEXT NOT NULL,
    start TEXT,
    until TEXT,
    count INTEGER,
    roll TEXT NOT NULL,
    growth_percent TEXT,
    growth_from TEXT,
    estimate INTEGER NOT NULL,
    subscription INTEGER NOT NULL,
    remind_days INTEGER NOT NULL,
    notes TEXT NOT NULL
);

CREATE TABLE flow_rule (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    text TEXT NOT NULL
);
CREATE INDEX flow_rule_flow ON flow_rule (flow);

CREATE TABLE flow_date (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    date TEXT NOT NULL,
    is_exception INTEGER NOT NULL
);
CREATE INDEX flow_date_flow ON flow_date (flow);

CREATE TABLE flow_season (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    month INTEGER NOT NULL,
    amount INTEGER NOT NULL
);
CREATE INDEX flow_season_flow ON flow_season (flow);

-- Rules of a revision are lines of one text; NULL keeps the rules that were.
CREATE TABLE flow_revision (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    start TEXT NOT NULL,
    amount INTEGER,
    rules TEXT
);
CREATE INDEX flow_revision_flow ON flow_revision (flow);

CREATE TABLE flow_change (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    nominal TEXT NOT NULL,
    amount INTEGER,
    moved_to TEXT,
    left_out INTEGER NOT NULL
);
CREATE INDEX flow_change_flow ON flow_change (flow);

CREATE TABLE flow_split (
    seq INTEGER PRIMARY KEY,
    flow TEXT NOT NULL REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    amount INTEGER NOT NULL,
    category TEXT REFERENCES category (id) DEFERRABLE INITIALLY DEFERRED,
    account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX flow_split_flow ON flow_split (flow);

CREATE TABLE entry (
    seq INTEGER PRIMARY KEY,
    id TEXT NOT NULL UNIQUE,
    date TEXT NOT NULL,
    payee TEXT NOT NULL,
    flow TEXT REFERENCES flow (id) DEFERRABLE INITIALLY DEFERRED,
    nominal TEXT,
    notes TEXT NOT NULL
);
CREATE INDEX entry_date ON entry (date);
CREATE INDEX entry_flow ON entry (flow, nominal) WHERE flow IS NOT NULL;

CREATE TABLE leg (
    seq INTEGER PRIMARY KEY,
    entry TEXT NOT NULL REFERENCES entry (id) DEFERRABLE INITIALLY DEFERRED,
    account TEXT REFERENCES account (id) DEFERRABLE INITIALLY DEFERRED,
    category TEXT REFERENCES category (id) DEFERRABLE INITIALLY DEFERRED,
    amount INTEGER NOT NULL
);
CREATE INDEX leg_entry ON leg (entry);
CREATE INDEX leg_account ON leg (account) WHERE account IS NOT NULL;
CREATE INDEX leg_category ON leg (category) WHERE category IS NOT NULL;

CREATE TABLE rate (
    seq INTEGER PRIMARY KEY,
    date TEXT NOT NULL,
    source TEXT NOT NULL,
    target TEXT NOT NULL,
    rate TEXT NOT NULL
);

-- Undo and redo: a step is one change by the household; its lines are the SQL that takes it back (or brings it again).
CREATE TABLE undo_step (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    label TEXT NOT NULL,
    is_undone INTEGER NOT NULL DEFAULT 0
);
CREATE TABLE undo_line (
    seq INTEGER PRIMARY KEY AUTOINCREMENT,
    step INTEGER NOT NULL REFERENCES undo_step (id) ON DELETE CASCADE,
    statement TEXT NOT NULL
);
CREATE INDEX undo_line_step ON undo_line (step);
-- The step that the triggers write to; no row while nothing is to be recorded.
CREATE TABLE undo_open (step INTEGER NOT NULL);
