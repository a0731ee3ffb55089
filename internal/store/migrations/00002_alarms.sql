-- +goose Up
-- Working CO and smoke alarms are a precondition; the plan asks when they were
-- tested last.
ALTER TABLE households ADD COLUMN alarms_tested date;

-- +goose Down
ALTER TABLE households DROP COLUMN alarms_tested;
