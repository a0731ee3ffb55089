package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// A Limit is how many attempts under one key are let through in a while.
type Limit struct {
	Key    string // whatever names it; only its hash is kept
	Most   int
	Within time.Duration
}

// Attempt counts an attempt against its limits before it is made, so that many
// at once are not all let through. It returns the limit that is used up, or nil
// and a number under which the attempt can be taken back ([Store.Forgive]) once
// it has turned out well.
func (s *Store) Attempt(ctx context.Context, now time.Time, limits ...Limit) (full *Limit, taken []int64, err error) {
	err = s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		full, taken = nil, nil
		for i, l := range limits {
			key := attemptKey(l.Key)
			// One at a time for each key, in an order that is the same for everybody.
			if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext($1))`, key); err != nil {
				return err
			}
			var n int
			if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM attempts WHERE key = $1 AND at > $2`, key, now.Add(-l.Within)); err != nil {
				return err
			}
			if n >= l.Most {
				full = &limits[i]
				return errFull
			}
			var id int64
			if err := tx.GetContext(ctx, &id, `INSERT INTO attempts (key, at) VALUES ($1, $2) RETURNING id`, key, now); err != nil {
				return err
			}
			taken = append(taken, id)
		}
		return nil
	})
	if errors.Is(err, errFull) {
		return full, nil, nil
	}
	return nil, taken, err
}

var errFull = errors.New("a limit is used up")

func attemptKey(key string) string {
	sum := sha256.Sum256([]byte(key))
	return hex.EncodeToString(sum[:16])
}

// Forgive takes back attempts that have turned out well.
func (s *Store) Forgive(ctx context.Context, taken []int64) error {
	if len(taken) == 0 {
		return nil
	}
	_, err := s.db.ExecContext(ctx, `DELETE FROM attempts WHERE id = ANY($1)`, taken)
	return err
}

// Remember notes that a user has signed in from an address.
func (s *Store) Remember(ctx context.Context, user int64, address string, now time.Time) error {
	_, err := s.db.ExecContext(ctx, `
		INSERT INTO known_addresses (user_id, key, at)
		VALUES ($1, $2, $3)
		ON CONFLICT (user_id, key) DO UPDATE SET at = EXCLUDED.at`, user, attemptKey(address), now)
	return err
}

// Knows tells whether the user of a name has signed in from an address before.
func (s *Store) Knows(ctx context.Context, name, address string) (bool, error) {
	var known bool
	err := s.db.GetContext(ctx, &known, `
		SELECT EXISTS (SELECT 1
		               FROM known_addresses k
		               JOIN users u ON u.id = k.user_id
		               WHERE u.name_key = $1 AND k.key = $2)`, NameKey(name), attemptKey(address))
	return known, err
}

// SetupCode returns the code that the first owner types, made once.
func (s *Store) SetupCode(ctx context.Context) (string, error) {
	code := rand.Text()[:12]
	code = strings.ToLower(code[:4] + "-" + code[4:8] + "-" + code[8:])
	err := s.db.GetContext(ctx, &code, `
		INSERT INTO setup_code (code)
		VALUES ($1)
		ON CONFLICT (single) DO UPDATE SET code = setup_code.code
		RETURNING code`, code)
	return code, err
}

// Empty tells whether there is no household yet.
func (s *Store) Empty(ctx context.Context) (bool, error) {
	var there bool
	err := s.db.GetContext(ctx, &there, `SELECT EXISTS (SELECT 1 FROM households)`)
	return !there, err
}

// SetPassword changes a password and ends every session of the user but the one
// of a token. Without one, as for somebody who is helped back in by the server's keeper, their
// passkeys go too: one may be of whoever has locked them out.
func (s *Store) SetPassword(ctx context.Context, user int64, hash, token string, now time.Time) error {
	return s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if err := touched(tx.ExecContext(ctx, `UPDATE users SET password = $2 WHERE id = $1`, user, hash)); err != nil {
			return err
		}
		if token == "" {
			if _, err := tx.ExecContext(ctx, `DELETE FROM passkeys WHERE user_id = $1`, user); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `
			UPDATE sessions
			SET ended_at = $3, data = ''
			WHERE user_id = $1 AND token_hash <> $2 AND ended_at IS NULL`, user, hashOf(token), now)
		return err
	})
}

// Create makes a household with its owner and a first space, and returns the
// numbers of household and owner. An owner's name that is in use is ErrTaken.
func (s *Store) Create(ctx context.Context, p Profile, first Space, owner, passwordHash string) (household, user int64, err error) {
	err = s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		household, user, err = create(ctx, tx, p, first, owner, passwordHash)
		return err
	})
	return household, user, err
}

// CreateFirst is Create on a server where nobody lives yet, by whoever has the
// set-up code; of several at once one succeeds. Where somebody lives already it
// is [ErrTaken], with another code [ErrMissing].
func (s *Store) CreateFirst(ctx context.Context, code string, p Profile, first Space, owner, passwordHash string) (household, user int64, err error) {
	err = s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `SELECT pg_advisory_xact_lock(hashtext('smolder-setup'))`); err != nil {
			return err
		}
		var there bool
		if err := tx.GetContext(ctx, &there, `SELECT EXISTS (SELECT 1 FROM households)`); err != nil {
			return err
		}
		if there {
			return ErrTaken
		}
		var wanted string
		err := tx.GetContext(ctx, &wanted, `SELECT code FROM setup_code`)
		if errors.Is(err, sql.ErrNoRows) || err == nil && plainCode(wanted) != plainCode(code) {
			return ErrMissing
		}
		if err != nil {
			return err
		}
		if household, user, err = create(ctx, tx, p, first, owner, passwordHash); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `DELETE FROM setup_code`)
		return err
	})
	return household, user, err
}

// plainCode leaves out what people add to a code that they copy by hand.
func plainCode(code string) string {
	return strings.ToLower(strings.NewReplacer("-", "", " ", "").Replace(code))
}

func create(ctx context.Context, tx *sqlx.Tx, p Profile, first Space, owner, passwordHash string) (household, user int64, err error) {
	err = tx.GetContext(ctx, &household, `
		INSERT INTO households (name, zone, units, alarms_tested, weather_url)
		VALUES ($1, $2, $3, $4, $5)
		RETURNING id`, p.Name, p.Zone, p.Units, sql.Null[time.Time]{V: p.Alarms, Valid: !p.Alarms.IsZero()}, p.WeatherURL)
	if err != nil {
		return 0, 0, err
	}
	if user, err = addUser(ctx, tx, household, Owner, owner, passwordHash); err != nil {
		return 0, 0, err
	}
	_, err = addSpace(ctx, tx, household, first)
	return household, user, err
}
