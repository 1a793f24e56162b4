-- What each table came to at the last rest, and at which revision that was: a flipped bit shows. No matter of undo.
CREATE TABLE checksum (name TEXT PRIMARY KEY, digest TEXT NOT NULL, revision INTEGER NOT NULL);
