package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// A Passkey is a key that a device of somebody's made, to sign in with.
type Passkey struct {
	ID         []byte          `db:"id"`
	Name       string          `db:"name"`
	Credential json.RawMessage `db:"credential"` // as the library of WebAuthn writes it
	MadeAt     time.Time       `db:"made_at"`
	UsedAt     *time.Time      `db:"used_at"` // nil: never
}

// MostPasskeys is how many somebody may have.
const MostPasskeys = 10

// Passkeys are somebody's, the oldest first.
func (s *Store) Passkeys(ctx context.Context, user int64) ([]Passkey, error) {
	var out []Passkey
	err := s.db.SelectContext(ctx, &out, `
		SELECT id, name, credential, made_at, used_at
		FROM passkeys
		WHERE user_id = $1
		ORDER BY made_at, id`, user)
	return out, err
}

// AddPasskey keeps one; [ErrMany] where there are as many as there may be, [ErrTaken] where its device
// has one here already.
func (s *Store) AddPasskey(ctx context.Context, user int64, p Passkey) error {
	return s.db.within(ctx, func(ctx context.Context, tx *sqlx.Tx) error {
		// One at a time for each, so that there are never more.
		if _, err := tx.ExecContext(ctx, `SELECT id FROM users WHERE id = $1 FOR UPDATE`, user); err != nil {
			return err
		}
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM passkeys WHERE user_id = $1`, user); err != nil {
			return err
		}
		if n >= MostPasskeys {
			return ErrMany
		}
		_, err := tx.ExecContext(ctx, `
			INSERT INTO passkeys (id, user_id, name, credential, made_at)
			VALUES ($1, $2, $3, $4, $5)`, p.ID, user, p.Name, string(p.Credential), p.MadeAt)
		if violates(err, "passkeys_pkey") {
			return ErrTaken
		}
		return err
	})
}

// UsedPasskey keeps what a sign-in has changed of one: how often it was used, and when.
func (s *Store) UsedPasskey(ctx context.Context, user int64, id []byte, credential json.RawMessage, now time.Time) error {
	return touched(s.db.ExecContext(ctx, `
		UPDATE passkeys
		SET credential = $3, used_at = $4
		WHERE user_id = $1 AND id = $2`, user, id, string(credential), now))
}

// RemovePasskey forgets one; whoever has it signs in with it no more.
func (s *Store) RemovePasskey(ctx context.Context, user int64, id []byte) error {
	return touched(s.db.ExecContext(ctx, `
		DELETE FROM passkeys
		WHERE user_id = $1 AND id = $2`, user, id))
}
