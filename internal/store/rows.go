package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jmoiron/sqlx"
)

// Rows of one household are kept apart twice. Every query of a [Household] names the household it
// is for; and each runs in a transaction as a role that does not own the tables and sees, by their
// row-level security, nothing but the rows of the household that the transaction has set. So a query
// that forgets to say whose rows it wants gets its own and no others.
//
//	smolder_household  a household's transactions: its rows alone, none before one is set
//	smolder_server     who serves where that is not the owner of the tables: everything, but no table is its own
//
// Both roles belong to the whole server of databases and cannot sign in. They are made by whoever
// migrates, or, where that may not make roles, by the server's keeper (docs/hosting.md).
const (
	householdRole = "smolder_household"
	serverRole    = "smolder_server"
)

// scoped is the pool as one household's transactions use it.
type scoped struct {
	database
	household int64
	reads     *replica // nil: there is none
}

// enter lets a transaction touch the rows of the household and no others.
func (d scoped) enter(ctx context.Context, tx *sqlx.Tx) error {
	// The number is no text of anybody's; statements without arguments go there in one message.
	var says strings.Builder
	if d.apart.Load() {
		fmt.Fprintf(&says, `SET LOCAL ROLE %s; SET LOCAL smolder.household = '%d';`, householdRole, d.household)
	}
	if d.pooled { // the connection is everybody's: what a transaction needs it says itself
		for name, value := range settings {
			fmt.Fprintf(&says, `SET LOCAL %s = '%s';`, name, value)
		}
	}
	if says.Len() == 0 {
		return nil
	}
	_, err := tx.ExecContext(ctx, says.String())
	return err
}

// within runs f in a transaction that touches this household's rows alone.
func (d scoped) within(ctx context.Context, f func(context.Context, *sqlx.Tx) error) error {
	return d.changing(ctx, longQuery, f)
}

// changing is [scoped.bounded] of what changes something.
func (d scoped) changing(ctx context.Context, limit time.Duration, f func(context.Context, *sqlx.Tx) error) error {
	d.reads.changed(d.household)
	defer d.reads.changed(d.household)
	return d.bounded(ctx, limit, f)
}

func (d scoped) bounded(ctx context.Context, limit time.Duration, f func(context.Context, *sqlx.Tx) error) error {
	return d.database.bounded(ctx, limit, func(ctx context.Context, tx *sqlx.Tx) error {
		if err := d.enter(ctx, tx); err != nil {
			return err
		}
		return f(ctx, tx)
	})
}

// GetContext reads one row.
func (d scoped) GetContext(ctx context.Context, into any, query string, args ...any) error {
	if d.reads != nil && changes(query) { // and returns what it has made
		d.reads.changed(d.household)
		defer d.reads.changed(d.household)
	}
	return d.elsewhere(func(d scoped) error {
		if !d.apart.Load() && !d.pooled {
			return d.database.GetContext(ctx, into, query, args...)
		}
		return d.bounded(ctx, patience, func(ctx context.Context, tx *sqlx.Tx) error { return tx.GetContext(ctx, into, query, args...) })
	})
}

// SelectContext reads rows.
func (d scoped) SelectContext(ctx context.Context, into any, query string, args ...any) error {
	return d.elsewhere(func(d scoped) error {
		if !d.apart.Load() && !d.pooled {
			return d.database.SelectContext(ctx, into, query, args...)
		}
		return d.bounded(ctx, patience, func(ctx context.Context, tx *sqlx.Tx) error { return tx.SelectContext(ctx, into, query, args...) })
	})
}

// elsewhere reads, and once more from the first server where a replica was asked and broke off.
func (d scoped) elsewhere(read func(scoped) error) error {
	err := read(d)
	if d.reads == nil || d.DB != d.reads.db.DB || !(Silent(err) || hasCode(err, recoveryConflict)) {
		return err
	}
	d.database = d.reads.first
	return read(d)
}

// ExecContext changes rows.
func (d scoped) ExecContext(ctx context.Context, query string, args ...any) (out sql.Result, err error) {
	d.reads.changed(d.household)
	defer d.reads.changed(d.household)
	if !d.apart.Load() && !d.pooled {
		return d.database.ExecContext(ctx, query, args...)
	}
	err = d.bounded(ctx, patience, func(ctx context.Context, tx *sqlx.Tx) (err error) {
		out, err = tx.ExecContext(ctx, query, args...)
		return err
	})
	return out, err
}

// A policy is which rows of a table are a household's.
type policy struct{ table, rows string }

// policies are those of all tables in which something of a household stands: by its number, or by
// that of somebody who lives in it.
func (d database) policies(ctx context.Context) (out []policy, err error) {
	var tables []struct {
		Name   string `db:"relname"`
		Column string `db:"attname"`
	}
	err = d.SelectContext(ctx, &tables, `
		SELECT c.relname, a.attname
		FROM pg_class c
		JOIN pg_namespace n ON n.oid = c.relnamespace
		JOIN pg_attribute a ON a.attrelid = c.oid AND NOT a.attisdropped
		WHERE n.nspname = current_schema() AND c.relkind IN ('r', 'p') AND NOT c.relispartition
		  AND (a.attname IN ('household_id', 'user_id') OR (c.relname = 'households' AND a.attname = 'id'))
		ORDER BY c.relname, a.attname`)
	if err != nil {
		return nil, err
	}
	for _, t := range tables {
		rows := t.Column + ` = (SELECT smolder_household())` // once a statement, and not a row
		if t.Column == "user_id" {
			rows = `EXISTS (SELECT 1 FROM users u WHERE u.id = user_id)` // of whom only its own are seen
		}
		if n := len(out); n > 0 && out[n-1].table == t.Name { // the household goes before somebody in it
			continue
		}
		out = append(out, policy{t.Name, rows})
	}
	return out, nil
}

// ErrRoles says that whoever migrates may not make the roles that keep rows apart.
var ErrRoles = errors.New("the roles that keep the rows of households apart are missing and may not be made")

// KeepApart makes what is missing of row-level security, for every table in which something of a
// household stands; what is there already is not touched, so that nobody waits. [ErrRoles] where it
// may not: then queries go on as before, each scoped by itself alone.
func (s *Store) KeepApart(ctx context.Context) error {
	if err := s.MakeRoles(ctx); err != nil {
		return err
	}
	err := s.db.bounded(ctx, longImport, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('smolder rows'))`); err != nil {
			return err
		}
		return s.keepApart(ctx, tx)
	})
	if err != nil {
		return err
	}
	return s.db.lookApart(ctx)
}

// MakeRoles makes the roles where they are not there.
func (s *Store) MakeRoles(ctx context.Context) error {
	for _, role := range []string{householdRole, serverRole} {
		var there, member bool
		if err := s.db.GetContext(ctx, &there, `SELECT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = $1)`, role); err != nil {
			return err
		}
		if !there {
			// Another database of the same server may make it at the same moment.
			if _, err := s.db.ExecContext(ctx, `CREATE ROLE `+role+` NOLOGIN`); err != nil && !hasCode(err, duplicateObject) && !hasCode(err, uniqueViolation) {
				return mayNot(err)
			}
		}
		if err := s.db.GetContext(ctx, &member, `SELECT `+maySet+` FROM pg_roles WHERE rolname = $1`, role); err != nil {
			return err
		}
		if !member {
			if _, err := s.db.ExecContext(ctx, `GRANT `+role+` TO CURRENT_USER`); err != nil && !hasCode(err, uniqueViolation) {
				return mayNot(err)
			}
		}
	}
	return nil
}

// maySet tells whether who is signed in may become a role: since PostgreSQL 16 who has made one is its
// member and may not yet.
const maySet = `CASE WHEN CAST(current_setting('server_version_num') AS integer) >= 160000
	THEN pg_has_role(current_user, oid, 'SET') ELSE pg_has_role(current_user, oid, 'MEMBER') END`

func mayNot(err error) error {
	if hasCode(err, insufficientPrivilege) {
		return fmt.Errorf("%w: %w", ErrRoles, err)
	}
	return err
}

func (s *Store) keepApart(ctx context.Context, tx *sqlx.Tx) error {
	wanted, err := s.db.policies(ctx)
	if err != nil {
		return err
	}
	var there []string
	// A copy that was restored has the policies, but not what the roles may do.
	if err := tx.SelectContext(ctx, &there, `
		SELECT tablename
		FROM pg_policies
		WHERE schemaname = current_schema() AND policyname = 'of_a_household'
		  AND has_table_privilege($1, quote_ident(schemaname) || '.' || quote_ident(tablename), 'DELETE')`, householdRole); err != nil {
		return err
	}
	var lacks []string // tables that a role may not use as it should
	if err := tx.SelectContext(ctx, &lacks, `
		SELECT c.relname
		FROM pg_class c
		JOIN pg_namespace n ON n.oid = c.relnamespace
		WHERE n.nspname = current_schema() AND c.relkind IN ('r', 'p') AND NOT c.relispartition
		  AND NOT has_table_privilege($1, c.oid, 'DELETE')`, serverRole); err != nil {
		return err
	}
	for _, p := range wanted {
		if slices.Contains(there, p.table) {
			continue
		}
		name := pgx.Identifier{p.table}.Sanitize()
		for _, statement := range []string{
			`ALTER TABLE ` + name + ` ENABLE ROW LEVEL SECURITY`,
			`DROP POLICY IF EXISTS of_a_household ON ` + name,
			`CREATE POLICY of_a_household ON ` + name + ` TO ` + householdRole + ` USING (` + p.rows + `)`,
			`DROP POLICY IF EXISTS of_the_server ON ` + name,
			`CREATE POLICY of_the_server ON ` + name + ` TO ` + serverRole + ` USING (true)`,
			`GRANT SELECT, INSERT, UPDATE, DELETE ON ` + name + ` TO ` + householdRole,
		} {
			if _, err := tx.ExecContext(ctx, statement); err != nil {
				return fmt.Errorf("rows of %s: %w", p.table, err)
			}
		}
	}
	if len(there) == len(wanted) && len(lacks) == 0 {
		return nil
	}
	var schema string
	if err := tx.GetContext(ctx, &schema, `SELECT quote_ident(current_schema())`); err != nil {
		return err
	}
	for _, statement := range []string{
		`GRANT USAGE ON SCHEMA ` + schema + ` TO ` + householdRole + `, ` + serverRole,
		`GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA ` + schema + ` TO ` + householdRole + `, ` + serverRole,
		`GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA ` + schema + ` TO ` + serverRole,
		`GRANT EXECUTE ON FUNCTION smolder_part(text, date, date), smolder_drop_part(text, date) TO ` + serverRole,
	} {
		if _, err := tx.ExecContext(ctx, statement); err != nil {
			return fmt.Errorf("what the roles may do: %w", err)
		}
	}
	return nil
}

// lookApart looks whether a household's transactions can run as the role that sees its rows alone.
func (d database) lookApart(ctx context.Context) error {
	var is struct {
		Can  bool `db:"can"`
		Owns bool `db:"owns"`
		// A table of which pieces lie on other servers has no key of its own.
		Spread bool `db:"spread"`
	}
	err := d.GetContext(ctx, &is, `
		SELECT EXISTS (SELECT 1 FROM pg_policies WHERE schemaname = current_schema() AND tablename = 'households' AND policyname = 'of_a_household')
		       AND COALESCE((SELECT `+maySet+` FROM pg_roles WHERE rolname = $1), false) AS can,
		       COALESCE((SELECT tableowner = current_user FROM pg_tables WHERE schemaname = current_schema() AND tablename = 'reported'), false) AS owns,
		       to_regclass('reported') IS NOT NULL AND NOT EXISTS (SELECT 1 FROM pg_constraint WHERE conrelid = to_regclass('reported') AND contype = 'p') AS spread`, householdRole)
	if err == nil {
		d.apart.Store(is.Can)
		d.owns.Store(is.Owns)
		d.spread.Store(is.Spread)
	}
	return err
}

// Apart tells whether rows of households are kept apart by the database too.
func (s *Store) Apart() bool { return s.db.apart.Load() }

// SQLSTATEs of what may not be, or is there already.
const (
	insufficientPrivilege = "42501"
	duplicateObject       = "42710"
	recoveryConflict      = "40001" // on a replica: what is read was cleaned away on the first server
	uniqueViolation       = "23505"
)
