// Package store keeps households, stoves, stacks and burns in PostgreSQL.
//
// A [Store] belongs to the server, a [Household] to one household: it is the
// only way to stoves, stacks and burns, and every query in it is scoped by the
// household's number. Asking for what is not there, or belongs to another
// household, is [ErrMissing] in both cases, so that nobody can tell which.
// Removing marks and can be undone; removing twice is fine.
package store

import (
	"context"
	"database/sql"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"

	"github.com/jackc/pgx/v5/pgconn"
	_ "github.com/jackc/pgx/v5/stdlib" // the driver behind sqlx
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
)

var (
	// ErrMissing says that there is no such thing in this household.
	ErrMissing = errors.New("there is no such thing in this household")
	// ErrTaken says that a name is already in use.
	ErrTaken = errors.New("the name is already in use")
	// ErrBurning says that a stove has a fire in it already.
	ErrBurning = errors.New("this stove already has a burn that is not ended")
)

// A Store is the database.
type Store struct{ db *sqlx.DB }

// Open connects to a database by its URL and checks that it answers.
func Open(ctx context.Context, url string) (*Store, error) {
	db, err := sqlx.ConnectContext(ctx, "pgx", url)
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	db.SetMaxOpenConns(16)
	db.SetMaxIdleConns(8)
	return &Store{db}, nil
}

// Close ends all connections.
func (s *Store) Close() error { return s.db.Close() }

// DB returns the pool, for the session library.
func (s *Store) DB() *sql.DB { return s.db.DB }

// Ping tells whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.db.PingContext(ctx) }

//go:embed migrations/*.sql
var migrations embed.FS

// Migrate brings the database to the newest version and returns how many steps
// that took.
func (s *Store) Migrate(ctx context.Context) (int, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return 0, err
	}
	p, err := goose.NewProvider(goose.DialectPostgres, s.db.DB, files)
	if err != nil {
		return 0, fmt.Errorf("reading the migrations: %w", err)
	}
	done, err := p.Up(ctx)
	if err != nil {
		return 0, fmt.Errorf("migrating: %w", err)
	}
	return len(done), nil
}

// A Household is the store as one household sees it.
type Household struct {
	db *sqlx.DB
	id int64
}

// Household returns the store scoped to a household.
func (s *Store) Household(id int64) Household { return Household{s.db, id} }

// within runs f in a transaction.
func (h Household) within(ctx context.Context, f func(*sqlx.Tx) error) error {
	tx, err := h.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after Commit it does nothing
	if err := f(tx); err != nil {
		return err
	}
	return tx.Commit()
}

// missing turns "no rows" into ErrMissing.
func missing(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrMissing
	}
	return err
}

// one turns an update that touched nothing into ErrMissing.
func one(r sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrMissing)
	}
	return nil
}

// violates tells whether an error is a breach of the named constraint.
func violates(err error, constraint string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.ConstraintName == constraint
}

// doc is a value kept as jsonb.
type doc[T any] struct{ V T }

// Scan reads jsonb.
func (d *doc[T]) Scan(src any) error {
	switch b := src.(type) {
	case []byte:
		return json.Unmarshal(b, &d.V)
	case string:
		return json.Unmarshal([]byte(b), &d.V)
	case nil:
		return nil
	}
	return fmt.Errorf("jsonb came as %T", src)
}

// encode returns a value as jsonb.
func encode(v any) (string, error) {
	b, err := json.Marshal(v)
	return string(b), err
}
