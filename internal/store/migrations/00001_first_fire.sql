-- +goose Up
-- Every table carries its household, and every query is scoped by it.
CREATE TABLE households (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name       text NOT NULL CHECK (name <> ''),
    zone       text NOT NULL,
    units      text NOT NULL CHECK (units IN ('metric', 'imperial')),
    house      jsonb NOT NULL, -- heat loss, leaks and fans, as house.House
    wanted_low  double precision NOT NULL DEFAULT 19,
    wanted_high double precision NOT NULL DEFAULT 21.5,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE users (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL CHECK (name <> ''),
    password     text NOT NULL, -- argon2id, encoded with its parameters
    created_at   timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX users_name ON users (lower(name));

-- The session library's table.
CREATE TABLE sessions (
    token  text PRIMARY KEY,
    data   bytea NOT NULL,
    expiry timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

CREATE TABLE stoves (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL,
    spec         jsonb NOT NULL, -- stove.Stove, read and written whole
    created_at   timestamptz NOT NULL DEFAULT now(),
    removed_at   timestamptz,
    UNIQUE (household_id, id)
);
CREATE UNIQUE INDEX stoves_name ON stoves (household_id, lower(name)) WHERE removed_at IS NULL;

-- What is left of a stack is never stored: it is what was counted less the
-- loads logged since, so undoing a load brings the wood back.
CREATE TABLE stacks (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL,
    species      text NOT NULL,
    piece_mass   double precision NOT NULL CHECK (piece_mass > 0),   -- kg
    piece_length double precision NOT NULL CHECK (piece_length > 0), -- m
    reading      double precision NOT NULL,                          -- meter, dry basis
    wood_temp    double precision NOT NULL,                          -- °C
    mass         double precision NOT NULL CHECK (mass >= 0),        -- kg when counted
    kindling     boolean NOT NULL DEFAULT false,
    counted_at   timestamptz NOT NULL DEFAULT now(),
    removed_at   timestamptz,
    UNIQUE (household_id, id)
);
CREATE UNIQUE INDEX stacks_name ON stacks (household_id, lower(name)) WHERE removed_at IS NULL;

CREATE TABLE burns (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint NOT NULL,
    title        text NOT NULL DEFAULT '',
    spec         jsonb NOT NULL, -- burn.Burn without its entries: the stove as it was then
    plan         jsonb,          -- plan.Plan, if it was started from one
    started      timestamptz NOT NULL,
    ended        timestamptz,
    removed_at   timestamptz,
    UNIQUE (household_id, id),
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id)
);
CREATE INDEX burns_started ON burns (household_id, started DESC);
-- One fire in a stove at a time.
CREATE UNIQUE INDEX burns_open ON burns (household_id, stove_id) WHERE ended IS NULL AND removed_at IS NULL;

CREATE TABLE entries (
    household_id bigint NOT NULL,
    burn_id      bigint NOT NULL,
    id           text NOT NULL, -- made where it was typed, so that it is kept once
    seq          bigint GENERATED ALWAYS AS IDENTITY,
    at           timestamptz NOT NULL,
    kind         text NOT NULL,
    doc          jsonb NOT NULL,        -- burn.Entry
    stack_id     bigint,                -- of a load
    load_mass    double precision,      -- kg, of a load
    corrects     text,                  -- the entry whose place it takes
    struck_at    timestamptz,
    PRIMARY KEY (household_id, burn_id, id),
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE CASCADE
);
CREATE INDEX entries_loads ON entries (household_id, stack_id, at) WHERE kind = 'load' AND struck_at IS NULL;

-- +goose Down
DROP TABLE entries, burns, stacks, stoves, sessions, users, households;
