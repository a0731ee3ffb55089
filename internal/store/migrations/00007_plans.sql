-- +goose Up
-- A plan is made once and has an address: it is opened, printed, put into the
-- calendar, kept and started from its row, and not searched for again. The best
-- and its alternatives share a choice.
CREATE TABLE plans (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint NOT NULL,
    choice       text NOT NULL,          -- made by the search; the same for plans to choose from
    place        int NOT NULL DEFAULT 0, -- among them, the best is 0
    kind         text NOT NULL CHECK (kind IN ('burn', 'day')),
    form         jsonb,                  -- plan.Plan or plan.Day; null: kept before plans were rows
    asked        text NOT NULL,          -- the sentence, as a query
    sentence     text NOT NULL DEFAULT '',
    begins_at    timestamptz NOT NULL,
    made_at      timestamptz NOT NULL,
    kept_at      timestamptz,
    dropped_at   timestamptz,
    burn_id      bigint,                 -- what it was started as
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE,
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE SET NULL (burn_id)
);
CREATE INDEX plans_kept ON plans (household_id, begins_at) WHERE kept_at IS NOT NULL AND dropped_at IS NULL;
CREATE INDEX plans_choice ON plans (household_id, choice, place);
CREATE INDEX plans_made ON plans (household_id, made_at);

INSERT INTO plans (household_id, stove_id, choice, kind, asked, sentence, begins_at, made_at, kept_at)
SELECT household_id, stove_id, 'kept-' || id, 'burn', left(asked, 4000), left(sentence, 500), begins_at, begins_at, begins_at
FROM kept_plans
WHERE removed_at IS NULL;
DROP TABLE kept_plans;

-- How far searches are, for whoever waits and whichever process is asked.
CREATE UNLOGGED TABLE searches (
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL, -- made by the page that waits
    burnt        int NOT NULL DEFAULT 0,
    fires        int NOT NULL DEFAULT 0,
    waiting      int NOT NULL DEFAULT 0, -- searches before it
    at           timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (household_id, name)
);
CREATE INDEX searches_at ON searches (at);

-- +goose Down
DROP TABLE searches, plans;
CREATE TABLE kept_plans (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint NOT NULL,
    begins_at    timestamptz NOT NULL,
    sentence     text NOT NULL,
    asked        text NOT NULL,
    removed_at   timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX kept_plans_begin ON kept_plans (household_id, begins_at) WHERE removed_at IS NULL;
