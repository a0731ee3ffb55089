package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"smolder/internal/core/burn"
)

// What thermometers reported of an ended burn is kept a second time with its review, as few
// readings as a strip shows: from half a million of them that takes longer than all else on
// the page.

// penned is what is kept: entries as [Household.reported] gives them.
type penned []struct {
	At    int64   `json:"t"` // µs since 1970
	Place string  `json:"p"`
	Value float64 `json:"v"`
}

// pensOf are the reported readings of a burn, as they are kept; null: there are none.
func pensOf(b burn.Burn) ([]byte, error) {
	var out penned
	for _, e := range b.Entries {
		if !e.Reported {
			continue
		}
		place, value := string(e.Place), float64(e.Reading)
		if e.Kind == burn.Draft {
			place, value = DraftPlace, float64(e.Draft)
		}
		out = append(out, struct {
			At    int64   `json:"t"`
			Place string  `json:"p"`
			Value float64 `json:"v"`
		}{e.At.UnixMicro(), place, value})
	}
	if out == nil {
		return nil, nil
	}
	return json.Marshal(out)
}

// DrawnBurn is [Household.Burn], with what thermometers reported as it is kept with the
// burn's review where that is of the burn as it stands.
func (h Household) DrawnBurn(ctx context.Context, id int64) (Burn, error) {
	b, err := h.LoggedBurn(ctx, id)
	if err != nil {
		return b, err
	}
	var pens []byte
	err = orMissing(h.db.GetContext(ctx, &pens, `
		SELECT pens
		FROM reviews
		WHERE household_id = $1 AND burn_id = $2 AND revision = $3`, h.id, id, b.Revision))
	switch {
	case errors.Is(err, ErrMissing) || b.Ended.IsZero():
		return h.Burn(ctx, id)
	case err != nil:
		return b, err
	}
	if pens != nil {
		var list penned
		if err := json.Unmarshal(pens, &list); err != nil {
			return b, err
		}
		reported := make([]burn.Entry, len(list))
		for i, p := range list {
			reported[i] = reportedEntry(time.UnixMicro(p.At).UTC(), p.Place, p.Value)
		}
		b.Entries = merged(b.Entries, reported)
	}
	b.Known, err = h.KnownAt(ctx, b.StoveID, b.Started)
	return b, err
}
