// Package storetest gives tests a real PostgreSQL: one server for the whole
// run, one database for each test, copied from a migrated template.
//
// `make test` starts the server and names it in SMOLDER_TEST_DATABASE; a lone
// `go test` of one package starts its own.
package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"net/url"
	"os"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/house"
	"smolder/internal/core/parallel"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/pgserver"
	"smolder/internal/store"
)

const variable = "SMOLDER_TEST_DATABASE"

// Main runs a package's tests with a server, its own if none is named.
func Main(m *testing.M) {
	parallel.Niceness(0) // what is searched for is waited for, and the machine is full of other tests
	if os.Getenv(variable) != "" {
		if os.Getenv("SMOLDER_TEST_POOLED") == "1" {
			os.Exit(pooled(m))
		}
		os.Exit(m.Run())
	}
	os.Exit(alone(m))
}

// pooledBy is a pooler that all of a package's stores go through, where SMOLDER_TEST_POOLED=1 asks for
// one: what holds for a server holds behind it.
var pooledBy *pgserver.Pooler

// pooled runs a package's tests behind a pooler with few connections.
func pooled(m *testing.M) int {
	dir, err := os.MkdirTemp("", "smolder-pooler-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	if pooledBy, err = pgserver.StartPooler(context.Background(), dir, os.Getenv(variable), 8); err != nil {
		panic(err)
	}
	defer pooledBy.Stop()
	return m.Run()
}

func alone(m *testing.M) int {
	dir, err := os.MkdirTemp("", "smolder-test-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil { //nolint:gosec // PostgreSQL's user walks through it
		panic(err)
	}
	server, err := pgserver.Start(context.Background(), pgserver.Options{Dir: dir, Volatile: true})
	if err != nil {
		panic(err)
	}
	defer func() { _ = server.Stop() }()
	_ = os.Setenv(variable, server.URL("postgres"))
	return m.Run()
}

var count atomic.Int64

// New returns an empty, migrated store that lasts as long as the test.
func New(t testing.TB) *store.Store {
	t.Helper()
	return From(t, Template{Name: "smolder_empty"})
}

// A Template is a database that stores are copied from: made once in the whole run.
type Template struct {
	Name string
	Over *Template // what it begins with; nil: an empty, migrated one
	Fill func(context.Context, *store.Store) error
}

// From returns a store copied from a template.
func From(t testing.TB, template Template, options ...store.Option) *store.Store {
	t.Helper()
	ctx := context.Background()
	admin, err := sql.Open("pgx", os.Getenv(variable))
	require.NoError(t, err)
	defer admin.Close()
	require.NoError(t, template.prepare(ctx, admin))
	name := fmt.Sprintf("test_%d_%d", os.Getpid(), count.Add(1))
	require.NoError(t, pgserver.Create(ctx, admin, name, template.Name))
	s := open(t, name, options...)
	t.Cleanup(func() {
		_ = s.Close()
		if db, err := sql.Open("pgx", os.Getenv(variable)); err == nil {
			_, _ = db.Exec(`DROP DATABASE IF EXISTS "` + name + `" WITH (FORCE)`)
			_ = db.Close()
		}
	})
	return s
}

// open opens a database, behind the pooler where there is one.
func open(t testing.TB, name string, options ...store.Option) *store.Store {
	t.Helper()
	at := address(name)
	if pooledBy != nil {
		options, at = append(options, store.Pooled(at)), pooledBy.URL(name)
	}
	s, err := store.Open(context.Background(), at, options...)
	require.NoError(t, err)
	return s
}

// Again opens the database of a store once more, as another process does.
func Again(t testing.TB, s *store.Store) *store.Store {
	t.Helper()
	var name string
	require.NoError(t, s.DB().QueryRow(`SELECT current_database()`).Scan(&name))
	other := open(t, name)
	t.Cleanup(func() { _ = other.Close() })
	return other
}

// prepare makes the template under a lock that all packages of the run share.
func (t Template) prepare(ctx context.Context, admin *sql.DB) error {
	base := ""
	if t.Over != nil {
		if err := t.Over.prepare(ctx, admin); err != nil {
			return err
		}
		base = t.Over.Name
	}
	conn, err := admin.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close() // ends the lock too
	if _, err := conn.ExecContext(ctx, `SELECT pg_advisory_lock(hashtext('smolder-test'))`); err != nil {
		return err
	}
	defer conn.ExecContext(ctx, `SELECT pg_advisory_unlock(hashtext('smolder-test'))`) //nolint:errcheck // the connection ends anyway
	var there bool
	if err := conn.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`, t.Name).Scan(&there); err != nil || there {
		return err
	}
	making := t.Name + "_making"
	if err := pgserver.Create(ctx, admin, making, base); err != nil {
		return err
	}
	s, err := store.Open(ctx, address(making))
	if err != nil {
		return err
	}
	if _, err := s.Migrate(ctx); err != nil {
		return err
	}
	if t.Fill != nil {
		if err := t.Fill(ctx, s); err != nil {
			return err
		}
	}
	if err := s.Close(); err != nil {
		return err
	}
	_, err = conn.ExecContext(ctx, `ALTER DATABASE "`+making+`" RENAME TO "`+t.Name+`"`)
	return err
}

// address is the server's URL with another database.
func address(database string) string {
	u, err := url.Parse(os.Getenv(variable))
	if err != nil {
		panic(err)
	}
	u.Path = "/" + database
	return u.String()
}

// Household makes a household of its own in a store.
func Household(t testing.TB, s *store.Store, owner string) store.Household {
	t.Helper()
	id, _, err := s.Create(context.Background(), store.Profile{Name: owner + "'s house", Zone: "UTC", Units: units.Metric},
		store.Space{Name: "the house", House: house.Default(), Wanted: [2]units.Celsius{19, 21}}, owner, "hash")
	require.NoError(t, err)
	return s.Household(id)
}

// Noon is a fixed time for tests.
var Noon = time.Date(2026, time.January, 14, 12, 0, 0, 0, time.UTC)

// AddStack keeps a stack of which a meter's reading and a mass are told.
func AddStack(h store.Household, w wood.Stack, at time.Time) (int64, error) {
	s, r, c := shed.Bare(w)
	return h.AddStack(context.Background(), s, r, c, at)
}
