package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"time"

	"github.com/alexedwards/scs/v2"
)

// Sessions keeps the session library's data, with what an owner wants to see of
// it. It implements [scs.CtxStore].
//
// A session that was ended stays as a mark until it would have run out: a page
// that was being computed while its person signed out cannot bring it back.
type Sessions struct {
	db  database
	now func() time.Time // the session library's own clock, which says when a session runs out
}

// Sessions returns where sessions are kept, by the clock that the session library goes by.
func (s *Store) Sessions(now func() time.Time) Sessions { return Sessions{s.db, now} }

// Keys under which a session's data holds who is signed in and with what.
const (
	SessionUser  = "user_id" // int64
	SessionAgent = "agent"   // string: the browser's own words
)

func hashOf(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

// FindCtx returns a session's data; false when there is none, or it has ended.
func (s Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var data []byte
	err := s.db.GetContext(ctx, &data, `
		SELECT data
		FROM sessions
		WHERE token_hash = $1 AND ended_at IS NULL AND expiry > $2`, hashOf(token), s.now())
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// Lives tells whether a session is still that of somebody signed in.
func (s Sessions) Lives(ctx context.Context, token string) (lives bool, err error) {
	err = s.db.GetContext(ctx, &lives, `
		SELECT EXISTS (SELECT 1 FROM sessions WHERE token_hash = $1 AND ended_at IS NULL AND user_id IS NOT NULL AND expiry > $2)`, hashOf(token), s.now())
	return lives, err
}

// CommitCtx keeps a session's data; that of an ended session is let go.
func (s Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	var user *int64
	agent := ""
	if _, values, err := (scs.GobCodec{}).Decode(data); err == nil {
		if id, ok := values[SessionUser].(int64); ok && id != 0 {
			user = &id
		}
		agent, _ = values[SessionAgent].(string)
	}
	_, err := s.db.ExecContext(ctx, `
		INSERT INTO sessions (token_hash, data, user_id, agent, expiry, begun_at, seen_at)
		-- a user who was removed meanwhile has no session
		SELECT $1, $2, $3, $4, $5, $6, $6
		WHERE CAST($3 AS bigint) IS NULL OR EXISTS (SELECT 1 FROM users WHERE id = $3)
		ON CONFLICT (token_hash) DO UPDATE
		SET data = EXCLUDED.data, user_id = EXCLUDED.user_id, agent = EXCLUDED.agent, expiry = EXCLUDED.expiry, seen_at = EXCLUDED.seen_at
		WHERE sessions.ended_at IS NULL`, hashOf(token), data, user, agent, expiry, s.now())
	return err
}

// DeleteCtx ends a session for good.
func (s Sessions) DeleteCtx(ctx context.Context, token string) error {
	_, err := s.db.ExecContext(ctx, `
		UPDATE sessions
		SET ended_at = $2, data = ''
		WHERE token_hash = $1 AND ended_at IS NULL`, hashOf(token), s.now())
	return err
}

// Find, Commit and Delete are for callers without a context.
func (s Sessions) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}

// Commit is [Sessions.CommitCtx].
func (s Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}

// Delete is [Sessions.DeleteCtx].
func (s Sessions) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }

// A Session is one browser in which somebody is signed in.
type Session struct {
	Key   string    `db:"token_hash"` // names it without letting anybody in
	Agent string    `db:"agent"`
	Begun time.Time `db:"begun_at"`
	Seen  time.Time `db:"seen_at"`
	Here  bool      `db:"here"` // the one that asks
}

// Of lists the sessions of a user, the last seen first; token is that of the
// one that asks.
func (s Sessions) Of(ctx context.Context, user int64, token string) ([]Session, error) {
	var out []Session
	err := s.db.SelectContext(ctx, &out, `
		SELECT token_hash, agent, begun_at, seen_at, token_hash = $2 AS here
		FROM sessions
		WHERE user_id = $1 AND ended_at IS NULL AND expiry > $3
		ORDER BY here DESC, seen_at DESC
		LIMIT 100`, user, hashOf(token), s.now())
	return out, err
}

// End ends one session of a user by its key; one that is not there is fine.
func (s Sessions) End(ctx context.Context, user int64, key string) error {
	_, err := s.db.ExecContext(ctx, `
		UPDATE sessions
		SET ended_at = $3, data = ''
		WHERE user_id = $1 AND token_hash = $2 AND ended_at IS NULL`, user, key, s.now())
	return err
}

// EndOthers ends every session of a user but the one of a token; an empty token
// ends all.
func (s Sessions) EndOthers(ctx context.Context, user int64, token string) error {
	_, err := s.db.ExecContext(ctx, `
		UPDATE sessions
		SET ended_at = $3, data = ''
		WHERE user_id = $1 AND token_hash <> $2 AND ended_at IS NULL`, user, hashOf(token), s.now())
	return err
}

// Tidy removes what has run out at a moment: sessions, old attempts, counts of searches and
// plans that nobody kept; and readings as [Store.Keep] has it.
func (s *Store) Tidy(ctx context.Context, now time.Time) error {
	const day = 24 * time.Hour
	var errs []error
	for _, rest := range []struct {
		query string
		after time.Duration
	}{
		{`DELETE FROM sessions WHERE expiry < $1`, 0},
		{`DELETE FROM attempts WHERE at < $1`, day},
		{`DELETE FROM invitations WHERE ends_at < $1`, 0},
		{`DELETE FROM known_addresses WHERE at < $1`, 180 * day},
		{`DELETE FROM uploads WHERE at < $1`, day},
		{`DELETE FROM searches WHERE at < $1`, time.Hour},
		{`DELETE FROM plans WHERE kept_at IS NULL AND burn_id IS NULL AND made_at < $1`, 3 * day},
	} {
		_, err := s.db.ExecContext(ctx, rest.query, now.Add(-rest.after))
		errs = append(errs, err)
	}
	_, err := s.RollUp(ctx, now)
	errs = append(errs, err)
	_, err = s.DropOld(ctx, now)
	return errors.Join(append(errs, err)...)
}
