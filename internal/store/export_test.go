package store

import (
	"context"
	"errors"

	"github.com/jmoiron/sqlx"
)

// MigrateTo brings the database to a version, up or down.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	p, err := s.migrator()
	if err != nil {
		return err
	}
	now, err := p.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	if now > version {
		_, err = p.DownTo(ctx, version)
	} else {
		_, err = p.UpTo(ctx, version)
	}
	return err
}

// Ask reads one value as the household's transactions do, whatever the query says or forgets to say.
func (h Household) Ask(ctx context.Context, into any, query string, args ...any) error {
	return h.db.GetContext(ctx, into, query, args...)
}

// Do changes rows as the household's transactions do, and puts them back.
func (h Household) Do(ctx context.Context, query string, then func() error) error {
	back := errors.New("put back")
	err := h.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, query); err != nil {
			return err
		}
		if err := then(); err != nil {
			return err
		}
		return back
	})
	if errors.Is(err, back) {
		return nil
	}
	return err
}

// KeptApart are the tables of which a household sees its own rows alone.
func (s *Store) KeptApart(ctx context.Context) (tables []string, err error) {
	policies, err := s.db.policies(ctx)
	for _, p := range policies {
		tables = append(tables, p.table)
	}
	return tables, err
}

// HouseholdRole is as whom a household's transactions run.
const HouseholdRole = householdRole

// ReplicaReads is how often the replica was asked.
func (s *Store) ReplicaReads() int64 { return s.reads.asked.Load() }
