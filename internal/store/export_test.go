package store

import "context"

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
