-- What the bank said an account held, of all accounts one list.
ALTER TABLE household ADD COLUMN readings TEXT NOT NULL DEFAULT '[]';
