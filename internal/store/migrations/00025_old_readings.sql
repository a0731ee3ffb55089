-- +goose Up
-- How far readings have been rolled up, by how long one of a gauge stands for.
CREATE TABLE rolled_up (
    span    integer PRIMARY KEY CHECK (span > 0), -- s
    through timestamptz NOT NULL
);

-- A part of the table of readings that is let go of, by whoever owns the table for who serves and
-- does not: none that holds anything of a day from the one named on.
-- +goose StatementBegin
CREATE FUNCTION smolder_drop_part(part text, before date) RETURNS boolean
    LANGUAGE plpgsql SECURITY DEFINER
    AS $$
DECLARE
    ends date;
BEGIN
    IF part !~ '^reported_[0-9]{4}([0-9]{2})?$' THEN
        RAISE EXCEPTION '% is no part of readings', part;
    END IF;
    IF length(part) = 13 THEN
        ends := to_date(substr(part, 10), 'YYYY') + interval '1 year';
    ELSE
        ends := to_date(substr(part, 10), 'YYYYMM') + interval '1 month';
    END IF;
    IF ends > before THEN
        RETURN false;
    END IF;
    EXECUTE format('DROP TABLE %I', part);
    RETURN true;
END
$$;
-- +goose StatementEnd
-- +goose StatementBegin
DO $$
BEGIN
    EXECUTE format('ALTER FUNCTION smolder_drop_part(text, date) SET search_path = %I, pg_temp', current_schema());
END
$$;
-- +goose StatementEnd
REVOKE EXECUTE ON FUNCTION smolder_drop_part(text, date) FROM PUBLIC;

-- +goose Down
DROP FUNCTION smolder_drop_part(text, date);
DROP TABLE rolled_up;
