package store

import (
	"context"
	"errors"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/form"
)

// EyeOf is what the owner saw at the end of a burn; nothing is an empty one.
func (h Household) EyeOf(ctx context.Context, burnID int64) (burn.Eye, error) {
	var row struct {
		Doc kept[form.Eye, burn.Eye] `db:"doc"`
	}
	err := orMissing(h.db.GetContext(ctx, &row, `
		SELECT doc
		FROM eyes
		WHERE household_id = $1 AND burn_id = $2`, h.id, burnID))
	if isMissing(err) {
		return burn.Eye{}, nil
	}
	return row.Doc.V, errors.Join(err, row.Doc.Bad)
}

// eyes are what owners saw at the end of burns, by burn; what cannot be read is left out.
func (h Household) eyes(ctx context.Context, burns []int64) (map[int64]burn.Eye, error) {
	var rows []struct {
		Burn int64                    `db:"burn_id"`
		Doc  kept[form.Eye, burn.Eye] `db:"doc"`
	}
	err := h.db.SelectContext(ctx, &rows, `
		SELECT burn_id, doc
		FROM eyes
		WHERE household_id = $1 AND burn_id = ANY ($2)`, h.id, burns)
	out := make(map[int64]burn.Eye, len(rows))
	for _, r := range rows {
		out[r.Burn] = r.Doc.V
	}
	return out, err
}

// KeepEye keeps it, in place of what was kept before.
func (h Household) KeepEye(ctx context.Context, burnID int64, e burn.Eye) error {
	text, err := encode(form.EyeOf(e))
	if err != nil {
		return err
	}
	return touched(h.db.ExecContext(ctx, `
		INSERT INTO eyes (household_id, burn_id, doc)
		SELECT household_id, id, $3
		FROM burns
		WHERE household_id = $1 AND id = $2 AND removed_at IS NULL
		ON CONFLICT (household_id, burn_id) DO UPDATE
		SET doc = EXCLUDED.doc`, h.id, burnID, text))
}

// A Photo is one of a burn, without its picture.
type Photo struct {
	ID      int64     `db:"id"`
	Made    time.Time `db:"made_at"`
	Width   int       `db:"width"`
	Height  int       `db:"height"`
	Removed bool      `db:"removed"`
}

// MostPhotos is how many a burn has at most.
const MostPhotos = 12

// AddPhoto keeps a picture of a burn, as JPEG; more than there may be are [ErrMany].
func (h Household) AddPhoto(ctx context.Context, burnID int64, width, height int, jpeg []byte, now time.Time) error {
	if _, err := h.LoggedBurn(ctx, burnID); err != nil {
		return err
	}
	if err := h.allows(ctx, OfBytes, int64(len(jpeg))); err != nil {
		return err
	}
	err := touched(h.db.ExecContext(ctx, `
		INSERT INTO photos (household_id, burn_id, width, height, jpeg, made_at)
		SELECT $1, $2, $3, $4, $5, $7
		WHERE (SELECT count(*) FROM photos WHERE household_id = $1 AND burn_id = $2 AND removed_at IS NULL) < $6`,
		h.id, burnID, width, height, jpeg, MostPhotos, now))
	if errors.Is(err, ErrMissing) {
		return ErrMany
	}
	return err
}

// Photos are a burn's, the oldest first, those taken off included.
func (h Household) Photos(ctx context.Context, burnID int64) ([]Photo, error) {
	var out []Photo
	err := h.db.SelectContext(ctx, &out, `
		SELECT id, made_at, width, height, removed_at IS NOT NULL AS removed
		FROM photos
		WHERE household_id = $1 AND burn_id = $2
		ORDER BY id`, h.id, burnID)
	return out, err
}

// Picture is a photo's JPEG.
func (h Household) Picture(ctx context.Context, burnID, id int64) ([]byte, error) {
	var jpeg []byte
	err := h.db.GetContext(ctx, &jpeg, `
		SELECT jpeg
		FROM photos
		WHERE household_id = $1 AND burn_id = $2 AND id = $3 AND removed_at IS NULL`, h.id, burnID, id)
	return jpeg, orMissing(err)
}

// RemovePhoto takes a photo off, or puts it back.
func (h Household) RemovePhoto(ctx context.Context, burnID, id int64, gone bool, now time.Time) error {
	return touched(h.db.ExecContext(ctx, `
		UPDATE photos
		SET removed_at = CASE WHEN $4 THEN CAST($6 AS timestamptz) END
		WHERE household_id = $1 AND burn_id = $2 AND id = $3
		  AND ($4 OR (SELECT count(*) FROM photos WHERE household_id = $1 AND burn_id = $2 AND removed_at IS NULL) < $5)`,
		h.id, burnID, id, gone, MostPhotos, now))
}
