-- +goose Up
-- Codes by which the host of a server lets one more household in, once each. Only the hash is here.
CREATE TABLE house_codes (
    hash    bytea PRIMARY KEY,
    made_at timestamptz NOT NULL,
    ends_at timestamptz NOT NULL
);

-- What stands in the archive of a household that leaves: who has it has taken everything out.
ALTER TABLE households ADD COLUMN leave_hash bytea;

-- +goose Down
ALTER TABLE households DROP COLUMN leave_hash;
DROP TABLE house_codes;
