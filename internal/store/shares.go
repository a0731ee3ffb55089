package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"time"
)

// How much is shared at a time, and for how long what others have sent is kept.
const (
	MostShares  = 40
	MostGuests  = 20
	guestsStay  = 30 * 24 * time.Hour
	sharesStay  = 180 * 24 * time.Hour // that are over, with their answers
	LongestTime = 400 * 24 * time.Hour
)

// A Share is something that a household shares by a link.
type Share struct {
	ID        int64               `db:"id"`
	Household int64               `db:"household_id"`
	Kind      string              `db:"kind"` // exchange.SharedKind
	Title     string              `db:"title"`
	Link      string              `db:"link"`
	Key       string              `db:"key"`
	By        string              `db:"by_name"`
	Made      time.Time           `db:"made_at"`
	Ends      time.Time           `db:"ends_at"`
	Withdrawn sql.Null[time.Time] `db:"withdrawn_at"`
	Note      string              `db:"note"`
	Edits     string              `db:"note_edits"`
	NoteAt    sql.Null[time.Time] `db:"note_at"`
	Seen      sql.Null[time.Time] `db:"seen_at"`
	Doc       []byte              `db:"doc"`
}

// Open tells whether its link still opens it.
func (s Share) Open(now time.Time) bool { return !s.Withdrawn.Valid && now.Before(s.Ends) }

// Share shares a document, and returns what its link has in it: that is kept nowhere. More than
// there may be is [ErrMany]. What has long been over is let go.
func (h Household) Share(ctx context.Context, s Share) (token string, err error) {
	if err := h.allows(ctx, OfBytes, int64(len(s.Doc))); err != nil {
		return "", err
	}
	token = rand.Text()
	if _, err := h.db.ExecContext(ctx, `
		DELETE FROM shares
		WHERE household_id = $1 AND COALESCE(withdrawn_at, ends_at) < $2`, h.id, s.Made.Add(-sharesStay)); err != nil {
		return "", err
	}
	err = touched(h.db.ExecContext(ctx, `
		INSERT INTO shares (household_id, kind, title, link, key, hash, doc, by_name, made_at, ends_at)
		SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10
		WHERE (SELECT count(*) FROM shares WHERE household_id = $1 AND withdrawn_at IS NULL AND ends_at > $9) < $11`,
		h.id, s.Kind, s.Title, s.Link, s.Key, hashOfToken(token), s.Doc, h.by, s.Made, s.Ends, MostShares))
	if errors.Is(err, ErrMissing) {
		return "", ErrMany
	}
	return token, err
}

const selectShares = `
	SELECT id, household_id, kind, title, link, key, by_name, made_at, ends_at, withdrawn_at, note, note_edits, note_at, seen_at
	FROM shares`

// Shares are a household's, the newest first, without what is in them.
func (h Household) Shares(ctx context.Context) ([]Share, error) {
	var out []Share
	err := h.db.SelectContext(ctx, &out, selectShares+`
		WHERE household_id = $1
		ORDER BY made_at DESC, id DESC`, h.id)
	return out, err
}

// SharedDoc is what stands behind one of a household's links.
func (h Household) SharedDoc(ctx context.Context, id int64) ([]byte, error) {
	var doc []byte
	err := h.db.GetContext(ctx, &doc, `
		SELECT doc
		FROM shares
		WHERE household_id = $1 AND id = $2`, h.id, id)
	return doc, orMissing(err)
}

// WithdrawShare ends a link now; twice is fine.
func (h Household) WithdrawShare(ctx context.Context, id int64, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE shares
		SET withdrawn_at = COALESCE(withdrawn_at, $3)
		WHERE household_id = $1 AND id = $2`, h.id, id, now))
}

// Answers is how many answers have come that nobody has seen.
func (h Household) Answers(ctx context.Context) (int, error) {
	var n int
	err := h.db.GetContext(ctx, &n, `
		SELECT count(*)
		FROM shares
		WHERE household_id = $1 AND note_at IS NOT NULL AND seen_at IS NULL`, h.id)
	return n, err
}

// SeeAnswers keeps that they were seen.
func (h Household) SeeAnswers(ctx context.Context, now time.Time) error {
	_, err := h.db.ExecContext(ctx, `
		UPDATE shares
		SET seen_at = $2
		WHERE household_id = $1 AND note_at IS NOT NULL AND seen_at IS NULL`, h.id, now)
	return err
}

// AnswerByKey keeps an answer that came in a file; [ErrMissing] where nothing of that key was
// shared here, [ErrStale] where it has one already.
func (h Household) AnswerByKey(ctx context.Context, key, text, edits string, now time.Time) error {
	var there int
	if err := h.db.GetContext(ctx, &there, `
		SELECT count(*)
		FROM shares
		WHERE household_id = $1 AND key = $2`, h.id, key); err != nil {
		return err
	}
	if there == 0 {
		return ErrMissing
	}
	err := touched(h.db.ExecContext(ctx, `
		UPDATE shares
		SET note = $3, note_edits = $4, note_at = $5
		WHERE household_id = $1 AND key = $2 AND note_at IS NULL`, h.id, key, text, edits, now))
	if errors.Is(err, ErrMissing) {
		return ErrStale
	}
	return err
}

// Shared is what stands behind a link; one that has ended, was withdrawn, or never was is
// [ErrMissing].
func (s *Store) Shared(ctx context.Context, token string, now time.Time) (Share, error) {
	var out Share
	err := s.db.GetContext(ctx, &out, `
		SELECT id, household_id, kind, title, link, key, by_name, made_at, ends_at, withdrawn_at, note, note_edits, note_at, seen_at, doc
		FROM shares
		WHERE hash = $1 AND withdrawn_at IS NULL AND ends_at > $2`, hashOfToken(token), now)
	return out, orMissing(err)
}

// Answer keeps what whoever has a link says; [ErrStale] where something was said already,
// [ErrMissing] where the link is over.
func (s *Store) Answer(ctx context.Context, token, text, edits string, now time.Time) error {
	if _, err := s.Shared(ctx, token, now); err != nil {
		return err
	}
	err := touched(s.db.ExecContext(ctx, `
		UPDATE shares
		SET note = $3, note_edits = $4, note_at = $2
		WHERE hash = $1 AND withdrawn_at IS NULL AND ends_at > $2 AND note_at IS NULL`, hashOfToken(token), now, text, edits))
	if errors.Is(err, ErrMissing) {
		return ErrStale
	}
	return err
}

// A Guest is something that another household has shared by a file.
type Guest struct {
	ID   int64     `db:"id"`
	Doc  []byte    `db:"doc"`
	Came time.Time `db:"came_at"`
}

// TakeGuest keeps one for a while; the oldest beyond [MostGuests] goes.
func (h Household) TakeGuest(ctx context.Context, doc []byte, now time.Time) (int64, error) {
	if err := h.allows(ctx, OfBytes, int64(len(doc))); err != nil {
		return 0, err
	}
	var id int64
	if err := h.db.GetContext(ctx, &id, `
		INSERT INTO guests (household_id, doc, came_at)
		VALUES ($1, $2, $3)
		RETURNING id`, h.id, doc, now); err != nil {
		return 0, err
	}
	_, err := h.db.ExecContext(ctx, `
		DELETE FROM guests
		WHERE household_id = $1 AND (came_at < $2 OR id NOT IN (
			SELECT id FROM guests
			WHERE household_id = $1
			ORDER BY came_at DESC, id DESC
			LIMIT $3))`, h.id, now.Add(-guestsStay), MostGuests)
	return id, err
}

// Guest is one of them.
func (h Household) Guest(ctx context.Context, id int64) (Guest, error) {
	var g Guest
	err := h.db.GetContext(ctx, &g, `
		SELECT id, doc, came_at
		FROM guests
		WHERE household_id = $1 AND id = $2`, h.id, id)
	return g, orMissing(err)
}

// DropGuest lets one go; twice is fine.
func (h Household) DropGuest(ctx context.Context, id int64) error {
	_, err := h.db.ExecContext(ctx, `
		DELETE FROM guests
		WHERE household_id = $1 AND id = $2`, h.id, id)
	return err
}
