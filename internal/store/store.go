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
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"strings"
	"sync/atomic"
	"time"

	"smolder/internal/form"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib" // the driver behind sqlx
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivermigrate"
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
	db     database
	heard  *readingCache
	limits Limits // of each household
	direct string // where the database itself is, behind a pooler; empty: there is none
	reads  *replica
	itself *pgx.ConnConfig // of the database, past any pooler
}

// An Option changes how a store is opened.
type Option func(*opening)

type opening struct {
	config *pgx.ConnConfig
	direct string
	reads  string
	bound  time.Duration
}

// Traced lets a tracer see every statement: tests count them.
func Traced(t pgx.QueryTracer) Option { return func(o *opening) { o.config.Tracer = t } }

// Pooled is for a database that is reached through a pooler which lends its connections for a
// transaction each: nothing is kept on one beyond that. What needs a connection for longer, to
// hear of changes and to migrate, goes to the database itself, by its URL; empty: there is no pooler.
func Pooled(direct string) Option {
	return func(o *opening) {
		if o.direct = direct; direct != "" {
			o.config.DefaultQueryExecMode = pgx.QueryExecModeCacheDescribe // no statement has a name there
		}
	}
}

// settings are what every connection begins with. To compile a query (jit) would take longer than
// any of these runs, and a log of fifty thousand readings is sorted in memory.
var settings = map[string]string{"statement_timeout": "20s", "idle_in_transaction_session_timeout": "30s", "lock_timeout": "10s", "jit": "off", "work_mem": "16MB"}

// Open connects to a database by its URL and checks that it answers.
func Open(ctx context.Context, url string, options ...Option) (*Store, error) {
	config, err := pgx.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	o := opening{config: config}
	for _, option := range options {
		option(&o)
	}
	config.ConnectTimeout = 5 * time.Second
	config.RuntimeParams["timezone"] = "UTC"
	for name, value := range settings {
		if config.RuntimeParams[name] == "" && o.direct == "" { // a pooler takes none: see [scoped.enter]
			config.RuntimeParams[name] = value
		}
	}
	itself := config
	if o.direct != "" {
		if itself, err = pgx.ParseConfig(o.direct); err != nil {
			return nil, fmt.Errorf("connecting to the database: %w", err)
		}
	}
	db := sqlx.NewDb(stdlib.OpenDB(*config), "pgx")
	db.SetMaxOpenConns(mostConnections)
	// One that is let go is soon asked for again, and opening one costs the database more than
	// all that a page asks.
	db.SetMaxIdleConns(mostConnections)
	db.SetConnMaxIdleTime(5 * time.Minute)
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	if err := db.PingContext(ctx); err != nil {
		_ = db.Close()
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	s := &Store{db: database{db, &atomic.Bool{}, &atomic.Bool{}, o.direct != ""}, heard: &readingCache{}, direct: o.direct, itself: itself}
	if err := s.db.lookApart(ctx); err != nil {
		_ = db.Close()
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	if o.reads != "" {
		if s.reads, err = openReplica(o, s.db); err != nil {
			_ = db.Close()
			return nil, err
		}
	}
	return s, nil
}

// openReplica opens the pool of a replica; whether it answers is looked at later, and again.
func openReplica(o opening, first database) (*replica, error) {
	config, err := pgx.ParseConfig(o.reads)
	if err != nil {
		return nil, fmt.Errorf("the replica: %w", err)
	}
	config.ConnectTimeout = 2 * time.Second
	config.RuntimeParams["timezone"] = "UTC"
	for name, value := range settings {
		config.RuntimeParams[name] = value
	}
	config.RuntimeParams["default_transaction_read_only"] = "on"
	db := sqlx.NewDb(stdlib.OpenDB(*config), "pgx")
	db.SetMaxOpenConns(mostConnections)
	db.SetMaxIdleConns(mostConnections)
	return &replica{db: database{DB: db, apart: first.apart}, first: first, bound: o.bound}, nil
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

// Full tells whether an error means that the database's disk is full.
func Full(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "53100" || pg.Code == "58030")
}

// ErrNewer says that the database was brought to a version that this program does not know.
var ErrNewer = errors.New("the database is of a newer version of Smolder than this program")

// Fits tells whether this program knows the database's version: [ErrNewer] where it does
// not. One that is older, or empty, is brought here by [Store.Migrate].
func (s *Store) Fits(ctx context.Context) error {
	p, err := s.migrator()
	if err != nil {
		return err
	}
	sources := p.ListSources()
	newest := sources[len(sources)-1].Version
	var there bool
	if err := s.db.GetContext(ctx, &there, `SELECT to_regclass('goose_db_version') IS NOT NULL`); err != nil || !there {
		return err
	}
	var version int64
	if err := s.db.GetContext(ctx, &version, `SELECT COALESCE(max(version_id), 0) FROM goose_db_version WHERE is_applied`); err != nil {
		return err
	}
	if version > newest {
		return fmt.Errorf("%w: it is at step %d, and this one knows %d; start the newer program, or give this one a database of its own", ErrNewer, version, newest)
	}
	return nil
}

// Recovers is for how long a database is waited for, usually, that is starting, or recovering
// after it was killed, and askedAgain how often it is asked meanwhile.
const Recovers, askedAgain = 90 * time.Second, 500 * time.Millisecond

// OpenPatiently is Open for a database that may just be starting: as long as it says so, or
// nobody answers at its address, it is asked again, for so long.
func OpenPatiently(ctx context.Context, url string, patience time.Duration, wait func(err error), options ...Option) (*Store, error) {
	until := time.Now().Add(patience)
	for told := false; ; {
		s, err := Open(ctx, url, options...)
		if err == nil || !Silent(err) || time.Now().After(until) || ctx.Err() != nil {
			return s, err
		}
		if !told && wait != nil {
			wait(err)
			told = true
		}
		select {
		case <-ctx.Done():
			return nil, err
		case <-time.After(askedAgain):
		}
	}
}

//go:embed migrations/*.sql
var migrations embed.FS

// Migrate brings the database to the newest version and returns how many steps
// that took. Of several processes that begin at once one migrates and the others
// wait for it.
func (s *Store) Migrate(ctx context.Context) (int, error) {
	if s.direct != "" { // it holds locks for longer than a pooler lends a connection
		itself, err := Open(ctx, s.direct)
		if err != nil {
			return 0, err
		}
		defer itself.Close()
		n, err := itself.Migrate(ctx)
		return n, errors.Join(err, s.db.lookApart(ctx))
	}
	p, err := s.migrator()
	if err != nil {
		return 0, err
	}
	if err := s.Fits(ctx); err != nil {
		return 0, err
	}
	done, err := p.Up(ctx)
	if err != nil {
		return 0, fmt.Errorf("migrating: %w", err)
	}
	if err := s.fillNameKeys(ctx); err != nil {
		return 0, fmt.Errorf("migrating: keys of names: %w", err)
	}
	if err := s.migrateQueue(ctx); err != nil {
		return 0, fmt.Errorf("migrating: the queue of background work: %w", err)
	}
	// Who may not make roles goes on without them: [Store.Apart] tells.
	if err := s.KeepApart(ctx); err != nil && !errors.Is(err, ErrRoles) {
		return 0, fmt.Errorf("migrating: keeping households apart: %w", err)
	}
	return len(done), nil
}

// migrateQueue brings the tables of background work (River's own) to their newest version, one
// process at a time.
func (s *Store) migrateQueue(ctx context.Context) error {
	conn, err := s.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer conn.Close() // ends the lock too
	if _, err := conn.ExecContext(ctx, `SELECT pg_advisory_lock(hashtext('smolder queue'))`); err != nil {
		return err
	}
	defer conn.ExecContext(context.WithoutCancel(ctx), `SELECT pg_advisory_unlock(hashtext('smolder queue'))`) //nolint:errcheck // it ends with the connection
	m, err := rivermigrate.New(riverdatabasesql.New(s.DB()), &rivermigrate.Config{Logger: slog.New(slog.DiscardHandler)})
	if err != nil {
		return err
	}
	_, err = m.Migrate(ctx, rivermigrate.DirectionUp, nil)
	return err
}

// migrator runs the migrations, one process at a time.
func (s *Store) migrator() (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	alone, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return nil, fmt.Errorf("locking for the migrations: %w", err)
	}
	p, err := goose.NewProvider(goose.DialectPostgres, s.DB(), files, goose.WithSessionLocker(alone))
	if err != nil {
		return nil, fmt.Errorf("reading the migrations: %w", err)
	}
	return p, nil
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
