-- +goose Up
-- How dry a stack is follows from how it lies, since when, and what meters read in
-- it; how much there is, from what was counted and what was logged since. Neither is
-- stored: both are worked out anew from these.
ALTER TABLE stacks
    ADD COLUMN cover     text NOT NULL DEFAULT '',        -- wood.Cover; empty: not told
    ADD COLUMN wind      double precision,                -- 0 sheltered, 1 open to it; null: not told
    ADD COLUMN sun       double precision,                -- 0 shade, 1 most of the day; null: not told
    ADD COLUMN on_ground boolean NOT NULL DEFAULT false,
    ADD COLUMN round     boolean NOT NULL DEFAULT false,  -- not split
    ADD COLUMN crooked   boolean NOT NULL DEFAULT false,  -- gnarled pieces, for hours when somebody watches
    ADD COLUMN since     timestamptz,                     -- split, or felled where it is round; null: not told
    ADD COLUMN piece_moisture double precision NOT NULL DEFAULT 0.18; -- of dry wood, when piece_mass was told

-- What a meter read on fresh faces of some pieces, all at once.
CREATE TABLE stack_readings (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stack_id     bigint NOT NULL,
    at           timestamptz NOT NULL,
    reading      double precision NOT NULL CHECK (reading > 0),            -- mean as read, of dry wood
    spread       double precision NOT NULL DEFAULT 0 CHECK (spread >= 0),  -- standard deviation between pieces; 0: one piece, or not told
    pieces       int NOT NULL CHECK (pieces > 0),
    wood_temp    double precision,                                         -- °C; null: not told
    guessed      boolean NOT NULL DEFAULT false,                           -- no meter: by how long it had lain, before that was kept
    undone_at    timestamptz,
    FOREIGN KEY (household_id, stack_id) REFERENCES stacks (household_id, id) ON DELETE CASCADE
);
CREATE INDEX stack_readings_stack ON stack_readings (household_id, stack_id, at);

-- A count of a stack, or of what was put on it: oven-dry, with how far off it may be.
CREATE TABLE stack_counts (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stack_id     bigint NOT NULL,
    at           timestamptz NOT NULL,
    way          text NOT NULL,                    -- wood.Way
    typed        text NOT NULL DEFAULT '',         -- in the owner's words
    dry          double precision NOT NULL CHECK (dry >= 0), -- kg
    own          double precision NOT NULL,        -- standard deviation of its share, of this count alone
    same         double precision NOT NULL,        -- likewise, of every such count
    adds         boolean NOT NULL DEFAULT false,   -- put on what lay there
    undone_at    timestamptz,
    FOREIGN KEY (household_id, stack_id) REFERENCES stacks (household_id, id) ON DELETE CASCADE
);
CREATE INDEX stack_counts_stack ON stack_counts (household_id, stack_id, at);

-- A meter's reading is corrected for the wood's temperature as the core does it (Pfaff
-- and Garrahan); an estimate was of the wood itself and is kept as read at 20 °C, where
-- a meter reads what is there within half a point.
INSERT INTO stack_readings (household_id, stack_id, at, reading, spread, pieces, wood_temp, guessed)
SELECT household_id, id, counted_at, GREATEST(0.04, reading), spread, 1,
       CASE WHEN spread > 0 OR ' ' || assumed || ' ' LIKE '% wood-temp %' THEN NULL ELSE wood_temp END, spread > 0
FROM stacks
WHERE species <> 'mineral-fuel';
UPDATE stacks
SET piece_moisture = CASE
    WHEN species = 'mineral-fuel' THEN 0.05
    WHEN spread > 0 THEN reading
    ELSE GREATEST(0, (100 * reading + 0.567 - 0.026 * wood_temp + 0.000051 * wood_temp * wood_temp)
                     / (0.881 * power(1.0056, wood_temp)) / 100)
    END;
INSERT INTO stack_counts (household_id, stack_id, at, way, dry, own, same)
SELECT household_id, id, counted_at, 'scale', mass / (1 + piece_moisture), 0.1, 0.1
FROM stacks;
UPDATE stacks SET assumed = trim(replace(' ' || assumed || ' ', ' wood-temp ', ' '));
ALTER TABLE stacks DROP COLUMN reading, DROP COLUMN wood_temp, DROP COLUMN spread, DROP COLUMN mass, DROP COLUMN counted_at;

-- Wood that was carried in, to the basket or the shelf by the stove.
CREATE TABLE carried (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL,
    stack_id     bigint NOT NULL,
    at           timestamptz NOT NULL,
    pieces       int NOT NULL CHECK (pieces > 0),
    undone_at    timestamptz,
    FOREIGN KEY (household_id, stack_id) REFERENCES stacks (household_id, id) ON DELETE CASCADE
);
CREATE INDEX carried_stack ON carried (household_id, stack_id, at);

-- What burns leave in flue and ash pan is added up on the first page: taken out of the
-- document once, and not at every look.
ALTER TABLE reviews
    ADD COLUMN settled jsonb GENERATED ALWAYS AS (doc->'Deposits') STORED,                                -- g a section, the horizontal run last
    ADD COLUMN mineral double precision GENERATED ALWAYS AS (CAST(doc->>'Mineral' AS double precision)) STORED; -- kg

-- What was done for the upkeep of a stove, or of the household where stove_id is null.
CREATE TABLE upkeep (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households ON DELETE CASCADE,
    stove_id     bigint,
    task         text NOT NULL,                    -- upkeep.Task
    at           timestamptz NOT NULL,
    note         text NOT NULL DEFAULT '',         -- what was found
    undone_at    timestamptz,
    FOREIGN KEY (household_id, stove_id) REFERENCES stoves (household_id, id) ON DELETE CASCADE
);
CREATE INDEX upkeep_done ON upkeep (household_id, stove_id, task, at);

-- +goose Down
DROP TABLE upkeep, carried;
ALTER TABLE reviews DROP COLUMN settled, DROP COLUMN mineral;
ALTER TABLE stacks
    ADD COLUMN reading    double precision NOT NULL DEFAULT 0.18,
    ADD COLUMN wood_temp  double precision NOT NULL DEFAULT 20,
    ADD COLUMN spread     double precision NOT NULL DEFAULT 0 CHECK (spread >= 0),
    ADD COLUMN mass       double precision NOT NULL DEFAULT 0 CHECK (mass >= 0),
    ADD COLUMN counted_at timestamptz NOT NULL DEFAULT now();
UPDATE stacks s
SET (reading, wood_temp, spread) = (SELECT r.reading, COALESCE(r.wood_temp, 20), CASE WHEN r.guessed THEN r.spread ELSE 0 END
                                    FROM stack_readings r
                                    WHERE r.household_id = s.household_id AND r.stack_id = s.id AND r.undone_at IS NULL
                                    ORDER BY r.at DESC LIMIT 1)
WHERE EXISTS (SELECT 1 FROM stack_readings r WHERE r.household_id = s.household_id AND r.stack_id = s.id AND r.undone_at IS NULL);
UPDATE stacks s
SET (mass, counted_at) = (SELECT c.dry * (1 + s.piece_moisture), c.at
                          FROM stack_counts c
                          WHERE c.household_id = s.household_id AND c.stack_id = s.id AND c.undone_at IS NULL AND NOT c.adds
                          ORDER BY c.at DESC LIMIT 1)
WHERE EXISTS (SELECT 1 FROM stack_counts c WHERE c.household_id = s.household_id AND c.stack_id = s.id AND c.undone_at IS NULL AND NOT c.adds);
DROP TABLE stack_counts, stack_readings;
ALTER TABLE stacks
    DROP COLUMN cover, DROP COLUMN wind, DROP COLUMN sun, DROP COLUMN on_ground, DROP COLUMN round, DROP COLUMN crooked, DROP COLUMN since,
    DROP COLUMN piece_moisture;
