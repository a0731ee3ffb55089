-- +goose Up
-- A burn counts its changes, so that what was worked out from it is known to be old.
ALTER TABLE burns ADD COLUMN revision bigint NOT NULL DEFAULT 1;
CREATE INDEX burns_stove ON burns (household_id, stove_id, started) WHERE removed_at IS NULL;

-- What an ended burn came to. All of it follows from the burn and from what was known of
-- its stove: rows may be thrown away, and are made again.
CREATE TABLE reviews (
    household_id bigint NOT NULL,
    burn_id      bigint NOT NULL,
    stove_id     bigint NOT NULL,
    revision     bigint NOT NULL,          -- of the burn that it was made from
    made_by      int NOT NULL,             -- review.Version
    whole        boolean NOT NULL,         -- with its findings; else only what a replay tells
    doc          jsonb NOT NULL,           -- review.Review
    pens         bytea,                    -- its gauges as they are drawn
    -- what burns are found, compared and added up by
    started      timestamptz NOT NULL,
    cold         boolean NOT NULL,         -- lit, and not on coals
    lay          text NOT NULL,
    species      text NOT NULL,
    wood         text NOT NULL,
    direction    text NOT NULL,
    moisture     real NOT NULL,            -- dry basis
    outdoor      real,                     -- °C; null: nobody said
    used         real NOT NULL,            -- kg
    heat         real NOT NULL,            -- J, to the room
    smoke        real NOT NULL,            -- g
    smoke_per_kg real NOT NULL,
    deposits     real NOT NULL,            -- g
    efficiency   real NOT NULL,            -- the middle of its range
    cold_s       real NOT NULL,            -- seconds under, in and over the gauge's band
    working_s    real NOT NULL,
    hot_s        real NOT NULL,
    smoulder_s   real NOT NULL,
    length_s     real NOT NULL,
    simulated    boolean NOT NULL,
    PRIMARY KEY (household_id, burn_id),
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE CASCADE
);
CREATE INDEX reviews_started ON reviews (household_id, started);

-- What is done to a stove, by hand, that makes it another one as far as it is known.
CREATE TABLE stove_changes (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stove_id     bigint NOT NULL,
    at           timestamptz NOT NULL,
    kind         text NOT NULL,            -- belief.Change, or "back": to what was known after a burn
    back_to      bigint,                   -- that burn; null: to nothing known
    undone_at    timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX stove_changes_stove ON stove_changes (household_id, stove_id, at);

-- What is known of a stove after each burn and each change, in their order. It follows from
-- them, and is made again from the first that is not as it was.
CREATE TABLE lessons (
    household_id bigint NOT NULL,
    stove_id     bigint NOT NULL,
    n            int NOT NULL,             -- counts up from 1
    at           timestamptz NOT NULL,     -- from when on it is known
    burn_id      bigint,                   -- what it was learned from: one of both
    change_id    bigint REFERENCES stove_changes ON DELETE CASCADE,
    revision     bigint NOT NULL DEFAULT 0,
    made_by      int NOT NULL,             -- learn.Version
    known        jsonb NOT NULL,           -- learn.Known
    PRIMARY KEY (household_id, stove_id, n),
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX lessons_at ON lessons (household_id, stove_id, at);

-- The owner's eye at the end of a burn.
CREATE TABLE eyes (
    household_id bigint NOT NULL,
    burn_id      bigint NOT NULL,
    doc          jsonb NOT NULL,           -- burn.Eye
    PRIMARY KEY (household_id, burn_id),
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE CASCADE
);
CREATE TABLE photos (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    burn_id      bigint NOT NULL,
    made_at      timestamptz NOT NULL DEFAULT now(),
    width        int NOT NULL,
    height       int NOT NULL,
    jpeg         bytea NOT NULL,           -- made here from what was sent; nothing else of it is kept
    removed_at   timestamptz,
    FOREIGN KEY (household_id, burn_id) REFERENCES burns (household_id, id) ON DELETE CASCADE
);
CREATE INDEX photos_burn ON photos (household_id, burn_id);

-- Two ways of doing it, tried in turn by lot.
CREATE TABLE trials (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stove_id     bigint NOT NULL,
    question     text NOT NULL,            -- ways.Question
    seed         bigint NOT NULL,
    most         int NOT NULL,             -- burns
    begun_at     timestamptz NOT NULL,
    ended_at     timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX trials_stove ON trials (household_id, stove_id);

-- Files of readings whose columns are not matched yet; a day old they are let go.
CREATE TABLE uploads (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    name         text NOT NULL,
    body         bytea NOT NULL,
    at           timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX uploads_household ON uploads (household_id);

-- +goose Down
DROP TABLE uploads, trials, photos, eyes, lessons, stove_changes, reviews;
DROP INDEX burns_stove;
ALTER TABLE burns DROP COLUMN revision;
