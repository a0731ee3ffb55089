package store

import (
	"context"
	"fmt"
	"sync/atomic"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib" // the driver behind sqlx
	"github.com/jmoiron/sqlx"
)

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
	s := &Store{db: database{db, &atomic.Bool{}, &atomic.Bool{}, &atomic.Bool{}, o.direct != ""}, heard: &readingCache{}, direct: o.direct, itself: itself}
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
