package intake

import (
	"context"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/store"
	"smolder/internal/trail"
)

// Keep reads a batch of whoever has a token and keeps its good lines; known is how many
// of them were there already.
func Keep(ctx context.Context, home store.Household, caller store.Caller, form Form, text []byte, now time.Time) (b Batch, known int, err error) {
	list, err := home.Stoves(ctx)
	if err != nil {
		return b, 0, err
	}
	r := Reader{Now: now.UTC(), Only: caller.StoveID.V}
	for _, st := range list {
		r.Stoves = append(r.Stoves, Stove{ID: st.ID, Name: st.Name, Places: placesOf(st.Stove)})
	}
	_, read := trail.Step(ctx, "readings are read")
	b, err = r.Read(form, text)
	read(err)
	if err != nil || len(b.Readings) == 0 {
		return b, 0, err
	}
	keeping, done := trail.Step(ctx, "readings are kept")
	kept, err := home.AddReported(keeping, b.Readings)
	done(err)
	return b, len(b.Readings) - kept, err
}

// placesOf are the places of a stove's gauges.
func placesOf(st stove.Stove) []stove.Place {
	var out []stove.Place
	for _, g := range st.Gauges {
		out = append(out, g.Place)
	}
	return out
}
