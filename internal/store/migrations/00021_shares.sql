-- +goose Up
-- What a household shares with another owner, as it was then and without names: behind a link that
-- ends by itself and can be withdrawn. Only the hash of what stands in the link is here.
CREATE TABLE shares (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    kind         text NOT NULL CHECK (kind IN ('burn', 'stove', 'trouble')),
    title        text NOT NULL CHECK (length(title) <= 200), -- for the owner's own list
    link         text NOT NULL CHECK (length(link) <= 400), -- where it stands in the household
    key          text NOT NULL, -- by which an answer in a file finds back
    hash         bytea NOT NULL UNIQUE,
    doc          bytea NOT NULL, -- exchange.Shared
    by_name      text NOT NULL DEFAULT '',
    made_at      timestamptz NOT NULL,
    ends_at      timestamptz NOT NULL,
    withdrawn_at timestamptz,
    note         text NOT NULL DEFAULT '' CHECK (length(note) <= 2000),
    note_edits   text NOT NULL DEFAULT '' CHECK (length(note_edits) <= 2000),
    note_at      timestamptz,
    seen_at      timestamptz,
    UNIQUE (household_id, key)
);

-- What others have shared with a household by a file, for a while.
CREATE TABLE guests (
    id           bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    household_id bigint NOT NULL REFERENCES households (id) ON DELETE CASCADE,
    doc          bytea NOT NULL, -- exchange.Shared
    came_at      timestamptz NOT NULL
);
CREATE INDEX guests_of ON guests (household_id, came_at);

-- +goose Down
DROP TABLE guests;
DROP TABLE shares;
