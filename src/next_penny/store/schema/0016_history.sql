-- When a change was made (the household's day and time), and the lowest points ahead before and after it: worked out
-- after it was made, none where that was not done.
ALTER TABLE undo_step ADD COLUMN made_at TEXT;
ALTER TABLE undo_step ADD COLUMN lowest_before_day TEXT;
ALTER TABLE undo_step ADD COLUMN lowest_before INTEGER;
ALTER TABLE undo_step ADD COLUMN lowest_after_day TEXT;
ALTER TABLE undo_step ADD COLUMN lowest_after INTEGER;
