-- Goals are one list of the household; how each stood when it was looked at last is no matter of undo.
ALTER TABLE household ADD COLUMN goals TEXT NOT NULL DEFAULT '[]';
CREATE TABLE goal_seen (
    goal TEXT PRIMARY KEY,
    begins TEXT NOT NULL, -- the first day of the period that it was seen in
    is_met INTEGER NOT NULL
);
