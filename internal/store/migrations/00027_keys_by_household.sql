-- +goose NO TRANSACTION
-- +goose Up
-- The household is the first column of every key by which its rows are found, so that tables can be
-- divided by it. Apart stay those in which somebody is looked up whose household is not known yet, by
-- what they show: users, tokens, invitations, shares. Table by table, so that none is held
-- longer than its own key takes, and done again where it was cut off.

-- These have such a key beside their number already, and others hang on it.
ALTER TABLE spaces DROP CONSTRAINT IF EXISTS spaces_pkey, REPLICA IDENTITY USING INDEX spaces_household_id_id_key;
ALTER TABLE stoves DROP CONSTRAINT IF EXISTS stoves_pkey, REPLICA IDENTITY USING INDEX stoves_household_id_id_key;
ALTER TABLE stacks DROP CONSTRAINT IF EXISTS stacks_pkey, REPLICA IDENTITY USING INDEX stacks_household_id_id_key;
ALTER TABLE burns DROP CONSTRAINT IF EXISTS burns_pkey, REPLICA IDENTITY USING INDEX burns_household_id_id_key;

ALTER TABLE lessons DROP CONSTRAINT IF EXISTS lessons_change_id_fkey;
ALTER TABLE stove_changes DROP CONSTRAINT IF EXISTS stove_changes_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE lessons DROP CONSTRAINT IF EXISTS lessons_change_id_fkey,
    ADD CONSTRAINT lessons_change_id_fkey FOREIGN KEY (household_id, change_id) REFERENCES stove_changes (household_id, id) ON DELETE CASCADE;

ALTER TABLE plans DROP CONSTRAINT IF EXISTS plans_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE photos DROP CONSTRAINT IF EXISTS photos_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE trials DROP CONSTRAINT IF EXISTS trials_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE uploads DROP CONSTRAINT IF EXISTS uploads_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE stack_readings DROP CONSTRAINT IF EXISTS stack_readings_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE stack_counts DROP CONSTRAINT IF EXISTS stack_counts_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE carried DROP CONSTRAINT IF EXISTS carried_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE upkeep DROP CONSTRAINT IF EXISTS upkeep_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE troubles DROP CONSTRAINT IF EXISTS troubles_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE practices DROP CONSTRAINT IF EXISTS practices_pkey, ADD PRIMARY KEY (household_id, id);
ALTER TABLE guests DROP CONSTRAINT IF EXISTS guests_pkey, ADD PRIMARY KEY (household_id, id);

-- +goose Down
ALTER TABLE guests DROP CONSTRAINT IF EXISTS guests_pkey, ADD PRIMARY KEY (id);
ALTER TABLE practices DROP CONSTRAINT IF EXISTS practices_pkey, ADD PRIMARY KEY (id);
ALTER TABLE troubles DROP CONSTRAINT IF EXISTS troubles_pkey, ADD PRIMARY KEY (id);
ALTER TABLE upkeep DROP CONSTRAINT IF EXISTS upkeep_pkey, ADD PRIMARY KEY (id);
ALTER TABLE carried DROP CONSTRAINT IF EXISTS carried_pkey, ADD PRIMARY KEY (id);
ALTER TABLE stack_counts DROP CONSTRAINT IF EXISTS stack_counts_pkey, ADD PRIMARY KEY (id);
ALTER TABLE stack_readings DROP CONSTRAINT IF EXISTS stack_readings_pkey, ADD PRIMARY KEY (id);
ALTER TABLE uploads DROP CONSTRAINT IF EXISTS uploads_pkey, ADD PRIMARY KEY (id);
ALTER TABLE trials DROP CONSTRAINT IF EXISTS trials_pkey, ADD PRIMARY KEY (id);
ALTER TABLE photos DROP CONSTRAINT IF EXISTS photos_pkey, ADD PRIMARY KEY (id);
ALTER TABLE plans DROP CONSTRAINT IF EXISTS plans_pkey, ADD PRIMARY KEY (id);
ALTER TABLE lessons DROP CONSTRAINT IF EXISTS lessons_change_id_fkey;
ALTER TABLE stove_changes DROP CONSTRAINT IF EXISTS stove_changes_pkey, ADD PRIMARY KEY (id);
ALTER TABLE lessons ADD CONSTRAINT lessons_change_id_fkey FOREIGN KEY (change_id) REFERENCES stove_changes ON DELETE CASCADE;
ALTER TABLE burns REPLICA IDENTITY DEFAULT, ADD PRIMARY KEY (id);
ALTER TABLE stacks REPLICA IDENTITY DEFAULT, ADD PRIMARY KEY (id);
ALTER TABLE stoves REPLICA IDENTITY DEFAULT, ADD PRIMARY KEY (id);
ALTER TABLE spaces REPLICA IDENTITY DEFAULT, ADD PRIMARY KEY (id);
