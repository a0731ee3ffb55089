package store

import (
	"context"
	"database/sql"
	"time"

	"smolder/internal/core/units"
)

// A Profile is a household's own data.
type Profile struct {
	ID         int64
	Name       string
	Zone       string // IANA time zone
	Units      units.System
	Language   string    // BCP 47 tag; empty: what the browser asks for
	Alarms     time.Time // day on which the CO and smoke alarms were tested last; zero: not known
	WeatherURL string    // of a forecast that speaks docs/formats.md; empty: somebody types it
	Version    int       // counts changes; [Household.SaveProfile] wants the one it was read with
}

// Location returns the household's time zone; UTC should it be unknown here.
func (p Profile) Location() *time.Location {
	if loc, err := time.LoadLocation(p.Zone); err == nil {
		return loc
	}
	return time.UTC
}

// Profile returns the household's own data.
func (h Household) Profile(ctx context.Context) (Profile, error) {
	var row struct {
		ID      int64               `db:"id"`
		Name    string              `db:"name"`
		Zone    string              `db:"zone"`
		Units   units.System        `db:"units"`
		Lang    string              `db:"language"`
		Alarms  sql.Null[time.Time] `db:"alarms_tested"`
		Weather string              `db:"weather_url"`
		Version int                 `db:"version"`
	}
	err := h.db.GetContext(ctx, &row, `
		SELECT id, name, zone, units, language, weather_url, version,
		       -- said under Household, or done with a tap under Upkeep
		       GREATEST(alarms_tested, (SELECT CAST(max(u.at AT TIME ZONE p.zone) AS date)
		                                FROM upkeep u
		                                WHERE u.household_id = p.id AND u.task = 'detectors' AND u.undone_at IS NULL)) AS alarms_tested
		FROM households p
		WHERE id = $1`, h.id)
	return Profile{row.ID, row.Name, row.Zone, row.Units, row.Lang, row.Alarms.V.UTC(), row.Weather, row.Version}, orMissing(err)
}

// OnlyHousehold returns the number of the household of a server that has one; false: it has none, or more.
func (s *Store) OnlyHousehold(ctx context.Context) (int64, bool, error) {
	var ids []int64
	err := s.db.SelectContext(ctx, &ids, `SELECT id FROM households ORDER BY id LIMIT 2`)
	if err != nil || len(ids) != 1 {
		return 0, false, err
	}
	return ids[0], true, nil
}

// SaveProfile changes the household's own data; [ErrStale] when somebody else
// has since p was read.
func (h Household) SaveProfile(ctx context.Context, p Profile) error {
	return h.fresh(ctx, "households", h.id, touched(h.db.ExecContext(ctx, `
		UPDATE households
		SET name = $3, zone = $4, units = $5, alarms_tested = $6, weather_url = $7, language = $8, version = version + 1
		WHERE id = $1 AND version = $2`, h.id, p.Version, p.Name, p.Zone, p.Units, sql.Null[time.Time]{V: p.Alarms, Valid: !p.Alarms.IsZero()},
		p.WeatherURL, p.Language)))
}

// fresh tells a change that came too late from one of something that is not
// there: both touch no row.
func (h Household) fresh(ctx context.Context, table string, id int64, err error) error {
	if err == nil || !isMissing(err) {
		return err
	}
	scope := `household_id`
	alive := ` AND removed_at IS NULL`
	if table == "households" {
		scope, alive = `id`, ``
	}
	var there bool
	if err := h.db.GetContext(ctx, &there, `SELECT EXISTS (SELECT 1 FROM `+table+` WHERE `+scope+` = $1 AND id = $2`+alive+`)`, h.id, id); err != nil {
		return err
	}
	if there {
		return ErrStale
	}
	return ErrMissing
}
