-- +goose Up
-- What somebody signs in with instead of a password (WebAuthn): a public key that a device made.
CREATE TABLE passkeys (
    id         bytea PRIMARY KEY CHECK (length(id) <= 1023),
    user_id    bigint NOT NULL REFERENCES users ON DELETE CASCADE,
    name       text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    credential jsonb NOT NULL CHECK (length(credential::text) <= 16000), -- as the library writes it
    made_at    timestamptz NOT NULL,
    used_at    timestamptz
);
CREATE INDEX passkeys_user ON passkeys (user_id);

-- +goose Down
DROP TABLE passkeys;
