-- +goose Up
-- What members of a household practise: all that a computed fire is made of, and what was done to it.
CREATE TABLE practices (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    user_id      bigint NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    lesson       text NOT NULL CHECK (length(lesson) <= 40), -- practice.Key
    on_stove     text NOT NULL CHECK (length(on_stove) <= 200), -- its name, or the family
    spec         jsonb NOT NULL, -- practice.Spec
    acts         jsonb NOT NULL DEFAULT '[]', -- practice.Done, in order
    acts_count   int NOT NULL DEFAULT 0,
    elapsed      double precision NOT NULL DEFAULT 0, -- s since the lesson began
    begun        timestamptz NOT NULL,
    ended        timestamptz,
    score        double precision, -- 0 to 1
    marks        jsonb -- practice.Mark
);
CREATE INDEX practices_of ON practices (household_id, user_id, begun DESC);

-- +goose Down
DROP TABLE practices;
