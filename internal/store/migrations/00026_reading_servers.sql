-- +goose Up
-- Further servers on which readings of thermometers lie, by household, as postgres_fdw knows them.
-- None: all of them lie here.
CREATE TABLE reading_servers (
    n      integer PRIMARY KEY CHECK (n > 0),
    server text NOT NULL UNIQUE
);

-- A part of the table of readings, as before; where there are further servers it is divided by
-- household among this one and those. The pieces that lie there are made over there, by dblink.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION smolder_part(part text, begins date, ends date) RETURNS void
    LANGUAGE plpgsql SECURITY DEFINER
    AS $$
DECLARE
    pieces integer := (SELECT count(*) + 1 FROM reading_servers);
    piece text;
    s reading_servers;
BEGIN
    IF part !~ '^reported_[0-9]{4}([0-9]{2})?$' OR part NOT IN (to_char(begins, '"reported_"YYYYMM'), to_char(begins, '"reported_"YYYY')) OR ends <= begins THEN
        RAISE EXCEPTION '% is no part of readings', part;
    END IF;
    IF pieces = 1 THEN
        EXECUTE format('CREATE TABLE %I (LIKE reported INCLUDING DEFAULTS INCLUDING CONSTRAINTS)', part);
        IF NOT EXISTS (SELECT 1 FROM pg_constraint WHERE conrelid = CAST('reported' AS regclass) AND contype = 'p') THEN
            EXECUTE format('ALTER TABLE %I ADD PRIMARY KEY (household_id, stove_id, at, place)', part);
        END IF;
    ELSE
        EXECUTE format('CREATE TABLE %I (LIKE reported INCLUDING DEFAULTS INCLUDING CONSTRAINTS) PARTITION BY HASH (household_id)', part);
        EXECUTE format('CREATE TABLE %I PARTITION OF %I (PRIMARY KEY (household_id, stove_id, at, place)) FOR VALUES WITH (MODULUS %s, REMAINDER 0)',
            part || '_0of' || pieces, part, pieces);
        FOR s IN SELECT * FROM reading_servers ORDER BY n LOOP
            piece := part || '_' || s.n || 'of' || pieces;
            PERFORM dblink_exec(s.server, format('CREATE TABLE IF NOT EXISTS %I (household_id bigint NOT NULL, stove_id bigint NOT NULL,
                at timestamptz NOT NULL, place text NOT NULL, value real NOT NULL, PRIMARY KEY (household_id, stove_id, at, place))', piece));
            EXECUTE format('CREATE FOREIGN TABLE %I PARTITION OF %I FOR VALUES WITH (MODULUS %s, REMAINDER %s) SERVER %I OPTIONS (table_name %L)',
                piece, part, pieces, s.n, s.server, piece);
        END LOOP;
    END IF;
    EXECUTE format('ALTER TABLE reported ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)', part, begins, ends);
END
$$;
-- +goose StatementEnd

-- A part that is let go of, as before; what of it lies on further servers goes there too.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION smolder_drop_part(part text, before date) RETURNS boolean
    LANGUAGE plpgsql SECURITY DEFINER
    AS $$
DECLARE
    ends date;
    there text[];
    named text[];
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
    SELECT array_agg(s.srvname), array_agg(c.relname)
    INTO there, named
    FROM pg_inherits i
    JOIN pg_class c ON c.oid = i.inhrelid
    JOIN pg_foreign_table f ON f.ftrelid = c.oid
    JOIN pg_foreign_server s ON s.oid = f.ftserver
    WHERE i.inhparent = to_regclass(part);
    EXECUTE format('DROP TABLE %I', part);
    FOR k IN 1 .. coalesce(array_length(there, 1), 0) LOOP
        PERFORM dblink_exec(there[k], format('DROP TABLE IF EXISTS %I', named[k]));
    END LOOP;
    RETURN true;
END
$$;
-- +goose StatementEnd
-- +goose StatementBegin
DO $$
BEGIN
    EXECUTE format('ALTER FUNCTION smolder_part(text, date, date) SET search_path = %I, pg_temp', current_schema());
    EXECUTE format('ALTER FUNCTION smolder_drop_part(text, date) SET search_path = %I, pg_temp', current_schema());
END
$$;
-- +goose StatementEnd

-- +goose Down
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION smolder_part(part text, begins date, ends date) RETURNS void
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
CREATE OR REPLACE FUNCTION smolder_drop_part(part text, before date) RETURNS boolean
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
    EXECUTE format('ALTER FUNCTION smolder_part(text, date, date) SET search_path = %I, pg_temp', current_schema());
    EXECUTE format('ALTER FUNCTION smolder_drop_part(text, date) SET search_path = %I, pg_temp', current_schema());
END
$$;
-- +goose StatementEnd
DROP TABLE reading_servers;
