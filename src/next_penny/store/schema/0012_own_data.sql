-- Which household a file is of, whatever it is called: a copy keeps it, another household has another.
CREATE TABLE lineage (id TEXT NOT NULL);
INSERT INTO lineage (id) VALUES (lower(hex(randomblob(16))));

-- The password of the app's door, if there is one: scrypt with its own salt, and how long one may stay.
CREATE TABLE door (salt BLOB NOT NULL, hash BLOB NOT NULL, minutes INTEGER NOT NULL);
