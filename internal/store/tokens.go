package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"errors"
	"time"
)

// The scopes of a token: what whoever has it may do.
const (
	ScopeReadings = "readings" // send what thermometers show
	ScopeLog      = "log"      // plan, begin and end burns, add entries
	ScopeRead     = "read"     // ask
)

// A Token lets a device or a program in. The token itself is shown once, when it is
// made, and kept nowhere.
type Token struct {
	ID      int64               `db:"id"`
	StoveID sql.Null[int64]     `db:"stove_id"`
	Name    string              `db:"name"`
	Scopes  textArray           `db:"scopes"`
	Made    time.Time           `db:"made_at"`
	Used    sql.Null[time.Time] `db:"used_at"`
}

// mostTokens is how many one household has at a time.
const mostTokens = 40

// tokenMark begins every token, so that one that is lost somewhere is known for what it
// is.
const tokenMark = "smolder_"

func hashOfToken(token string) []byte { sum := sha256.Sum256([]byte(token)); return sum[:] }

// MakeToken makes a token and returns it; more than there may be is [ErrMany], a stove
// that is not there [ErrMissing].
func (h Household) MakeToken(ctx context.Context, name string, stoveID int64, scopes []string) (token string, err error) {
	token = tokenMark + rand.Text()
	var stove *int64
	if stoveID != 0 {
		if _, err := h.Stove(ctx, stoveID); err != nil {
			return "", err
		}
		stove = &stoveID
	}
	err = touched(h.db.ExecContext(ctx, `
		INSERT INTO tokens (household_id, stove_id, name, scopes, hash)
		SELECT $1, $2, $3, CAST($4 AS text[]), $5
		WHERE (SELECT count(*) FROM tokens WHERE household_id = $1 AND revoked_at IS NULL) < $6`,
		h.id, stove, name, textArray(scopes), hashOfToken(token), mostTokens))
	if errors.Is(err, ErrMissing) {
		return "", ErrMany
	}
	return token, err
}

// Tokens are those that are not revoked, the newest first.
func (h Household) Tokens(ctx context.Context) ([]Token, error) {
	var out []Token
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, stove_id, name, scopes, made_at, used_at
		FROM tokens
		WHERE household_id = $1 AND revoked_at IS NULL
		ORDER BY made_at DESC, id DESC`, h.id)
	return out, err
}

// RevokeToken ends a token; one that is not there is fine.
func (h Household) RevokeToken(ctx context.Context, id int64, now time.Time) error {
	_, err := h.db.ExecContext(ctx, `
		UPDATE tokens
		SET revoked_at = $3
		WHERE household_id = $1 AND id = $2 AND revoked_at IS NULL`, h.id, id, now)
	return err
}

// A Caller is who has shown a token.
type Caller struct {
	ID      int64           `db:"id"`
	Home    int64           `db:"household_id"`
	Name    string          `db:"name"`
	StoveID sql.Null[int64] `db:"stove_id"`
	Scopes  textArray       `db:"scopes"`
	Asked   int             `db:"minute_count"` // in this minute, with this time
}

// Call finds out who has a token, notes that it was used, and counts how often in this
// minute; [ErrMissing] where there is none such.
func (s *Store) Call(ctx context.Context, token string, now time.Time) (c Caller, err error) {
	err = s.db.GetContext(ctx, &c, `
		UPDATE tokens
		SET used_at = $2,
		    minute_count = CASE WHEN minute_at = date_trunc('minute', CAST($2 AS timestamptz)) THEN minute_count + 1 ELSE 1 END,
		    minute_at = date_trunc('minute', CAST($2 AS timestamptz))
		WHERE hash = $1 AND revoked_at IS NULL
		RETURNING id, household_id, name, stove_id, scopes, minute_count`, hashOfToken(token), now)
	return c, orMissing(err)
}
