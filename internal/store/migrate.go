package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"

	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivermigrate"
)

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
