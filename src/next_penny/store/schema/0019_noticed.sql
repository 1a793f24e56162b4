-- What was worth a look and was looked at, by its key. No matter of undo.
CREATE TABLE noticed_seen (key TEXT PRIMARY KEY);
