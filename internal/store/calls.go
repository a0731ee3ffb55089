package store

import (
	"context"
	"database/sql"
	"errors"
	"strings"
	"time"
)

// A Calling is what somebody wants to be called for.
type Calling struct {
	Wanted bool
	Off    []string // kinds that they do not want
	Quiet  [2]int   // minutes of the day; the same: never
}

// A PushBrowser is a browser that a push service reaches (RFC 8030), with its keys (RFC 8291).
type PushBrowser struct {
	ID       int64  `db:"id"`
	UserID   int64  `db:"user_id"`
	Endpoint string `db:"endpoint"`
	P256dh   string `db:"p256dh"`
	Auth     string `db:"auth"`
}

// ErrManyBrowsers says that somebody is reached in as many browsers as one may be.
var ErrManyBrowsers = errors.New("as many browsers are called as may be")

// mostBrowsers is how many browsers of one person are called.
const mostBrowsers = 10

type callingRow struct {
	Wanted bool   `db:"wanted"`
	Off    string `db:"off"`
	From   int    `db:"quiet_from"`
	To     int    `db:"quiet_to"`
}

func (r callingRow) calling() Calling {
	return Calling{Wanted: r.Wanted, Off: strings.Fields(r.Off), Quiet: [2]int{r.From, r.To}}
}

// Calling returns what somebody wants to be called for; who never said wants nothing.
func (h Household) Calling(ctx context.Context, user int64) (Calling, error) {
	var row callingRow
	err := h.db.GetContext(ctx, &row, `
		SELECT c.wanted, c.off, c.quiet_from, c.quiet_to
		FROM callings c
		JOIN users u ON u.id = c.user_id
		WHERE u.household_id = $1 AND u.id = $2`, h.id, user)
	if errors.Is(err, sql.ErrNoRows) {
		return Calling{}, nil
	}
	return row.calling(), err
}

// SaveCalling keeps it.
func (h Household) SaveCalling(ctx context.Context, user int64, c Calling) error {
	return touched(h.db.ExecContext(ctx, `
		INSERT INTO callings (user_id, wanted, off, quiet_from, quiet_to)
		SELECT id, $3, $4, $5, $6
		FROM users
		WHERE household_id = $1 AND id = $2
		ON CONFLICT (user_id) DO UPDATE
		SET wanted = EXCLUDED.wanted, off = EXCLUDED.off, quiet_from = EXCLUDED.quiet_from, quiet_to = EXCLUDED.quiet_to`,
		h.id, user, c.Wanted, strings.Join(c.Off, " "), c.Quiet[0], c.Quiet[1]))
}

// AddPushBrowser keeps a browser of somebody's; the same again is fine, whosever it was.
func (h Household) AddPushBrowser(ctx context.Context, user int64, b PushBrowser, now time.Time) error {
	res, err := h.db.ExecContext(ctx, `
		INSERT INTO push_browsers (user_id, endpoint, p256dh, auth, made_at)
		SELECT id, $3, $4, $5, $6
		FROM users u
		WHERE u.household_id = $1 AND u.id = $2 AND (SELECT count(*) FROM push_browsers p WHERE p.user_id = u.id AND p.endpoint <> $3) < $7
		ON CONFLICT (endpoint) DO UPDATE
		SET user_id = EXCLUDED.user_id, p256dh = EXCLUDED.p256dh, auth = EXCLUDED.auth`,
		h.id, user, b.Endpoint, b.P256dh, b.Auth, now.UTC(), mostBrowsers)
	if err := touched(res, err); errors.Is(err, ErrMissing) {
		return ErrManyBrowsers
	}
	return err
}

// RemovePushBrowser forgets one; one that is not there is fine.
func (s *Store) RemovePushBrowser(ctx context.Context, endpoint string) error {
	_, err := s.db.ExecContext(ctx, `DELETE FROM push_browsers WHERE endpoint = $1`, endpoint)
	return err
}

// Called is somebody who wants to be called in the browsers that a push service reaches.
type Called struct {
	Household int64
	User      int64
	Own       Own // how they read
	Calling
	Browsers []PushBrowser
}

// mostCalled is how many browsers are gone through at a time.
const mostCalled = 5000

// Called are all who want to be called, by household.
func (s *Store) Called(ctx context.Context) ([]Called, error) {
	var rows []struct {
		Household int64 `db:"household_id"`
		Own
		callingRow
		PushBrowser
	}
	err := s.db.SelectContext(ctx, &rows, `
		SELECT u.household_id, u.units, u.language, u.colours, c.wanted, c.off, c.quiet_from, c.quiet_to, p.id, p.user_id, p.endpoint, p.p256dh, p.auth
		FROM callings c
		JOIN users u ON u.id = c.user_id
		JOIN push_browsers p ON p.user_id = c.user_id
		WHERE c.wanted
		ORDER BY u.household_id, u.id, p.id
		LIMIT $1`, mostCalled)
	var out []Called
	for _, r := range rows {
		if n := len(out); n == 0 || out[n-1].User != r.UserID {
			out = append(out, Called{Household: r.Household, User: r.UserID, Own: r.Own, Calling: r.calling()})
		}
		last := &out[len(out)-1]
		last.Browsers = append(last.Browsers, r.PushBrowser)
	}
	return out, err
}

// keptCalls is how long it is remembered what somebody was called for.
const keptCalls = 15 * 24 * time.Hour

// MarkCalled notes that somebody is called for something; false: they were before.
func (s *Store) MarkCalled(ctx context.Context, user int64, key string, now time.Time) (bool, error) {
	if _, err := s.db.ExecContext(ctx, `DELETE FROM calls_made WHERE at < $1`, now.Add(-keptCalls).UTC()); err != nil {
		return false, err
	}
	res, err := s.db.ExecContext(ctx, `
		INSERT INTO calls_made (user_id, key, at)
		SELECT id, $2, $3
		FROM users
		WHERE id = $1
		ON CONFLICT DO NOTHING`, user, key, now.UTC())
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, err
}
