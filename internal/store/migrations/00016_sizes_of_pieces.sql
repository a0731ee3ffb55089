-- +goose Up
-- A stack has thin and thick pieces beside its usual ones: what lights a fire, and what lasts a night.
ALTER TABLE stacks
    ADD COLUMN thin_piece double precision NOT NULL DEFAULT 0 CHECK (thin_piece >= 0), -- kg; 0: all alike
    ADD COLUMN thick_piece double precision NOT NULL DEFAULT 0 CHECK (thick_piece >= 0); -- kg

-- +goose Down
ALTER TABLE stacks DROP COLUMN thin_piece, DROP COLUMN thick_piece;
