-- +goose Up
-- Whose rows the transaction at hand may touch: set in each by the application. Null: nobody's.
-- +goose StatementBegin
CREATE FUNCTION smolder_household() RETURNS bigint
    LANGUAGE sql STABLE PARALLEL SAFE
    AS $$ SELECT NULLIF(current_setting('smolder.household', true), '')::bigint $$;
-- +goose StatementEnd

-- A part of the table of readings, made by whoever owns the table for who serves and does not. The
-- name and its span go together, and nothing else is made.
-- +goose StatementBegin
CREATE FUNCTION smolder_part(part text, begins date, ends date) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    AS $$
BEGIN
    IF part !~ '^reported_[0-9]{4}([0-9]{2})?$' OR part NOT IN (to_char(begins, '"reported_"YYYYMM'), to_char(begins, '"reported_"YYYY')) OR ends <= begins THEN
        RAISE EXCEPTION '% is no part of readings', part;
    END IF;
    EXECUTE format('CREATE TABLE %I (LIKE reported INCLUDING DEFAULTS INCLUDING CONSTRAINTS)', part);
    EXECUTE format('ALTER TABLE reported ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)', part, begins, ends);
END
$$;
-- +goose StatementEnd
-- +goose StatementBegin
DO $$
BEGIN
    EXECUTE format('ALTER FUNCTION smolder_part(text, date, date) SET search_path = %I, pg_temp', current_schema());
END
$$;
-- +goose StatementEnd
REVOKE EXECUTE ON FUNCTION smolder_part(text, date, date) FROM PUBLIC;

-- +goose Down
DROP FUNCTION smolder_part(text, date, date);
DROP FUNCTION smolder_household() CASCADE;
