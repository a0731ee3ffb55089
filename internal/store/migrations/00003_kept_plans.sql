-- +goose Up
-- A plan for later is kept as it was asked, and made anew with the weather of
-- then.
CREATE TABLE kept_plans (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint NOT NULL,
    begins_at    timestamptz NOT NULL,
    sentence     text NOT NULL, -- what it came to when it was kept
    asked        text NOT NULL, -- the plan's form, as a query
    removed_at   timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX kept_plans_begin ON kept_plans (household_id, begins_at) WHERE removed_at IS NULL;

-- +goose Down
DROP TABLE kept_plans;
