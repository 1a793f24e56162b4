-- From which day an account is kept with its past and offered nowhere.
ALTER TABLE account ADD COLUMN closed TEXT;

-- When a flow was last paid before the household began here.
ALTER TABLE flow ADD COLUMN last_paid TEXT;
