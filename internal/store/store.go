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
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"smolder/internal/form"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jmoiron/sqlx"
)

var (
	// ErrMissing says that there is no such thing in this household.
	ErrMissing = errors.New("there is no such thing in this household")
	// ErrTaken says that a name is already in use.
	ErrTaken = errors.New("the name is already in use")
	// ErrBurning says that a stove has a fire in it already.
	ErrBurning = errors.New("this stove already has a burn that is not ended")
	// ErrStale says that somebody else has changed it since it was read.
	ErrStale = errors.New("it was changed meanwhile")
	// ErrUsed says that something else still stands on it.
	ErrUsed = errors.New("something still stands on it")
	// ErrUnreadable says that something is kept in a form that this program cannot read.
	ErrUnreadable = errors.New("it is kept in a form that cannot be read")
	// ErrMany says that there are as many as there may be.
	ErrMany = errors.New("there are too many of these")
)

const (
	// patience is how long one statement may take before whoever asked is told
	// that the database does not answer: it ends also when the other side has
	// fallen silent, which the server's own timeout cannot.
	patience = 8 * time.Second
	// longQuery is for what may read a whole burn.
	longQuery = 15 * time.Second
	// mostConnections is how many one process opens.
	mostConnections = 16
)

// database is the pool, with a limit of time on every statement.
type database struct {
	*sqlx.DB
	apart *atomic.Bool // whether the database itself keeps households apart, see rows.go

	owns   *atomic.Bool // whether who is signed in owns the tables
	spread *atomic.Bool // whether readings lie on several servers
	pooled bool         // a connection is lent for a transaction, see [Pooled]
}

// GetContext reads one row.
func (d database) GetContext(ctx context.Context, into any, query string, args ...any) error {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	return d.DB.GetContext(ctx, into, query, args...)
}

// SelectContext reads rows.
func (d database) SelectContext(ctx context.Context, into any, query string, args ...any) error {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	return d.DB.SelectContext(ctx, into, query, args...)
}

// ExecContext changes rows.
func (d database) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	return d.DB.ExecContext(ctx, query, args...)
}

// within runs f in a transaction, with one limit of time for all of it.
func (d database) within(ctx context.Context, f func(context.Context, *sqlx.Tx) error) error {
	return d.bounded(ctx, longQuery, f)
}

// bounded is [database.within] with a limit of its own.
func (d database) bounded(ctx context.Context, limit time.Duration, f func(context.Context, *sqlx.Tx) error) error {
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	conn, err := d.Connx(ctx)
	if err != nil {
		return err
	}
	defer conn.Close()
	tx, err := conn.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback() //nolint:errcheck // after Commit it does nothing
	if err := f(context.WithValue(ctx, connKey{}, conn), tx); err != nil {
		return err
	}
	return tx.Commit()
}

// connKey is under which the connection of a transaction stands in its context: to copy many rows at
// once is more than a transaction can do by itself, see [copyRows].
type connKey struct{}

// A Store is the database.
type Store struct {
	db      database
	heard   *readingCache
	limits  Limits // of each household
	keeping Keeping
	direct  string // where the database itself is, behind a pooler; empty: there is none
	reads   *replica
	itself  *pgx.ConnConfig // of the database, past any pooler
}

// Close ends all connections.
func (s *Store) Close() error {
	if s.reads != nil {
		return errors.Join(s.db.Close(), s.reads.db.Close())
	}
	return s.db.Close()
}

// DB returns the pool, for tests.
func (s *Store) DB() *sql.DB { return s.db.DB.DB }

// Ping tells whether the database answers, within a moment.
func (s *Store) Ping(ctx context.Context) error {
	ctx, cancel := context.WithTimeout(ctx, 2*time.Second)
	defer cancel()
	return s.db.PingContext(ctx)
}

// errClosed is what a pool says that was closed: the library does not export it.
var errClosed = func() error {
	db := sql.OpenDB(nowhere{})
	_ = db.Close()
	return db.Ping()
}()

// nowhere is a connector that connects to nothing.
type nowhere struct{}

func (nowhere) Connect(context.Context) (driver.Conn, error) { return nil, driver.ErrBadConn }
func (nowhere) Driver() driver.Driver                        { return nil }

// Silent tells whether an error means that the database is not there, or does
// not answer.
func Silent(err error) bool {
	var connect *pgconn.ConnectError
	var network net.Error
	var pg *pgconn.PgError
	switch {
	case err == nil:
		return false
	case errors.As(err, &pg):
		return strings.HasPrefix(pg.Code, "57P") || strings.HasPrefix(pg.Code, "08") || pg.Code == "53300" // shutting down, connection, too many
	case errors.As(err, &connect), errors.As(err, &network):
		return true
	}
	return errors.Is(err, context.DeadlineExceeded) || errors.Is(err, sql.ErrConnDone) || errors.Is(err, driver.ErrBadConn) ||
		pgconn.Timeout(err) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, errClosed)
}

// Passing tells whether an error is of the moment and not of what was asked: the database is away,
// full, or going over to another server, or a question waited too long or in a ring. What waits
// elsewhere is tried again then, and not given up.
func Passing(err error) bool {
	var pg *pgconn.PgError
	if Silent(err) || Full(err) {
		return true
	}
	// Classes of SQLSTATE: rolled back, resources, locks and what is not ready, ended from outside,
	// the system's own; and a server that only reads.
	return errors.As(err, &pg) && (slices.Contains([]string{"40", "53", "55", "57", "58"}, pg.Code[:min(2, len(pg.Code))]) || pg.Code == "25006")
}

// Full tells whether an error means that the database's disk is full.
func Full(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "53100" || pg.Code == "58030")
}

// A Household is the store as one household sees it.
type Household struct {
	db     scoped
	id     int64
	by     string // who does what is done; see [Household.As]
	heard  *readingCache
	limits Limits
}

// Household returns the store scoped to a household.
func (s *Store) Household(id int64) Household {
	return Household{db: scoped{s.db, id, s.reads}, id: id, heard: s.heard, limits: s.limits}
}

// ID is the household's number.
func (h Household) ID() int64 { return h.id }

// within runs f in a transaction.
func (h Household) within(ctx context.Context, f func(context.Context, *sqlx.Tx) error) error {
	return h.db.within(ctx, f)
}

// orMissing turns "no rows" into ErrMissing.
func orMissing(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrMissing
	}
	return err
}

func isMissing(err error) bool { return errors.Is(err, ErrMissing) }

// touched turns an update that touched nothing into ErrMissing.
func touched(r sql.Result, err error) error {
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

// violatesTable tells whether an error is a breach of a rule of the named table.
func violatesTable(err error, table string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.TableName == table
}

// kept is a value of the core kept in its written form, as jsonb; null is the
// zero value. What cannot be read is no error of the query, so that one such row does not
// hide the others: Bad says so, as [ErrUnreadable].
type kept[F form.Written[C], C any] struct {
	V     C
	There bool
	Bad   error
}

// Scan reads jsonb, of whichever version it was written.
func (k *kept[F, C]) Scan(src any) (err error) {
	var b []byte
	switch v := src.(type) {
	case []byte:
		b = v
	case string:
		b = []byte(v)
	case nil:
		return nil
	default:
		return fmt.Errorf("jsonb came as %T", src)
	}
	if k.V, err = form.Read[F](b); err != nil {
		k.Bad = unreadable(err)
		return nil
	}
	k.There = true
	return nil
}

// encode returns a form as jsonb.
func encode[C any](f form.Written[C]) (string, error) {
	b, err := form.Write(f)
	return string(b), err
}

// Identity names this database among others: the same for as long as it is there.
func (s *Store) Identity(ctx context.Context) (string, error) {
	var id string
	err := s.db.GetContext(ctx, &id, `
		SELECT substr(md5(current_database() || ':' || oid || ':' || COALESCE(pg_catalog.shobj_description(oid, 'pg_database'), '')), 1, 16)
		FROM pg_database
		WHERE datname = current_database()`)
	return id, err
}
