package store

import (
	"context"
	"database/sql"
	"time"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// A Profile is a household's own data.
type Profile struct {
	ID     int64
	Name   string
	Zone   string // IANA time zone
	Units  units.System
	House  house.House
	Wanted [2]units.Celsius // room temperature
	Alarms time.Time        // day on which the CO and smoke alarms were tested last; zero: not known
}

// Location returns the household's time zone; UTC should it be unknown here.
func (p Profile) Location() *time.Location {
	if loc, err := time.LoadLocation(p.Zone); err == nil {
		return loc
	}
	return time.UTC
}

// A User can sign in.
type User struct {
	ID        int64  `db:"id"`
	Household int64  `db:"household_id"`
	Name      string `db:"name"`
	Password  string `db:"password"` // encoded hash
}

// Empty tells whether there is no household yet.
func (s *Store) Empty(ctx context.Context) (bool, error) {
	var there bool
	err := s.db.GetContext(ctx, &there, `SELECT EXISTS (SELECT 1 FROM households)`)
	return !there, err
}

// Create makes a household with its owner and returns its number. An owner's
// name that is in use is ErrTaken.
func (s *Store) Create(ctx context.Context, p Profile, owner, passwordHash string) (int64, error) {
	spec, err := encode(p.House)
	if err != nil {
		return 0, err
	}
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return 0, err
	}
	defer tx.Rollback() //nolint:errcheck // after Commit it does nothing
	var id int64
	err = tx.GetContext(ctx, &id, `
		INSERT INTO households (name, zone, units, house, wanted_low, wanted_high, alarms_tested)
		VALUES ($1, $2, $3, $4, $5, $6, $7)
		RETURNING id`, p.Name, p.Zone, p.Units, spec, p.Wanted[0], p.Wanted[1], sql.Null[time.Time]{V: p.Alarms, Valid: !p.Alarms.IsZero()})
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `
		INSERT INTO users (household_id, name, password)
		VALUES ($1, $2, $3)`, id, owner, passwordHash)
	if violates(err, "users_name") {
		return 0, ErrTaken
	}
	if err != nil {
		return 0, err
	}
	return id, tx.Commit()
}

// UserByName finds who signs in; the case of letters does not matter.
func (s *Store) UserByName(ctx context.Context, name string) (User, error) {
	var u User
	err := s.db.GetContext(ctx, &u, `
		SELECT id, household_id, name, password
		FROM users
		WHERE lower(name) = lower($1)`, name)
	return u, missing(err)
}

// Profile returns the household's own data.
func (h Household) Profile(ctx context.Context) (Profile, error) {
	var row struct {
		ID    int64            `db:"id"`
		Name  string           `db:"name"`
		Zone  string           `db:"zone"`
		Units units.System     `db:"units"`
		House doc[house.House] `db:"house"`
		Low   float64          `db:"wanted_low"`
		High  float64          `db:"wanted_high"`

		Alarms sql.Null[time.Time] `db:"alarms_tested"`
	}
	err := h.db.GetContext(ctx, &row, `
		SELECT id, name, zone, units, house, wanted_low, wanted_high, alarms_tested
		FROM households
		WHERE id = $1`, h.id)
	return Profile{row.ID, row.Name, row.Zone, row.Units, row.House.V,
		[2]units.Celsius{units.Celsius(row.Low), units.Celsius(row.High)}, row.Alarms.V.UTC()}, missing(err)
}

// SaveProfile changes the household's own data.
func (h Household) SaveProfile(ctx context.Context, p Profile) error {
	spec, err := encode(p.House)
	if err != nil {
		return err
	}
	return one(h.db.ExecContext(ctx, `
		UPDATE households
		SET name = $2, zone = $3, units = $4, house = $5, wanted_low = $6, wanted_high = $7, alarms_tested = $8
		WHERE id = $1`, h.id, p.Name, p.Zone, p.Units, spec, p.Wanted[0], p.Wanted[1], sql.Null[time.Time]{V: p.Alarms, Valid: !p.Alarms.IsZero()}))
}
