package intake

import (
	"context"
	"errors"
	"slices"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/store"
	"smolder/internal/trail"
)

// Keep reads a batch of whoever has a token and keeps its good lines; known is how many
// of them were there already.
func Keep(ctx context.Context, home store.Household, caller store.Caller, form Form, text []byte, now time.Time) (b Batch, known int, err error) {
	r, err := readerOf(ctx, home, caller, now)
	if err != nil {
		return b, 0, err
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

// readerOf is the reader of what a caller sends.
func readerOf(ctx context.Context, home store.Household, caller store.Caller, now time.Time) (Reader, error) {
	list, err := home.Stoves(ctx)
	r := Reader{Now: now.UTC(), Only: caller.StoveID.V}
	for _, st := range list {
		r.Stoves = append(r.Stoves, Stove{ID: st.ID, Name: st.Name, Places: placesOf(st.Stove)})
	}
	return r, err
}

// callerOf is who has a token that may send readings.
func callerOf(ctx context.Context, s *store.Store, token string, now time.Time) (store.Caller, error) {
	caller, err := s.Call(ctx, token, now)
	switch {
	case errors.Is(err, store.ErrMissing):
		return caller, errors.New("a message with a token that is not known here")
	case err == nil && !slices.Contains(caller.Scopes, store.ScopeReadings):
		return caller, errors.New("a message with a token that may not send readings")
	}
	return caller, err
}

// placesOf are the places of a stove's gauges.
func placesOf(st stove.Stove) []stove.Place {
	var out []stove.Place
	for _, g := range st.Gauges {
		out = append(out, g.Place)
	}
	return out
}
