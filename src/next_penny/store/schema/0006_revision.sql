-- How often the file was changed: says in one number which moment a reader sees.
CREATE TABLE revision (number INTEGER NOT NULL);
INSERT INTO revision (number) VALUES (1);
