package demo

import (
	"context"
	"fmt"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/store"
)

// begunBefore is how long ago the demo's fire was lit that burns when it is looked at.
const begunBefore = 50 * time.Minute

// Running lets one fire burn in the demo's first stove, so that the page at the stove
// lives: lit a while ago by a plan, and logged as its people log it. The stove is one of
// a tuning that nobody knows. Where a fire is in already, nothing is changed. It returns
// the stove's number.
func Running(ctx context.Context, s *store.Store, household int64, hidden fire.Tuning, now time.Time) (int64, error) {
	h := s.Household(household)
	stoves, err := h.Stoves(ctx)
	if err != nil {
		return 0, err
	}
	if len(stoves) == 0 {
		return 0, store.ErrMissing
	}
	st := stoves[0]
	open, err := h.OpenBurns(ctx)
	if err != nil {
		return 0, err
	}
	for _, b := range open {
		if b.StoveID == st.ID {
			return st.ID, nil
		}
	}
	stacks, err := new(shed.Shed).Stacks(ctx, h, now)
	if err != nil {
		return 0, err
	}
	w := wish.Wish{Stove: st.Stove, House: st.Space.House, Aim: wish.Hold, For: 6 * time.Hour, Outdoor: 2, Room: 17,
		Low: st.Space.Wanted[0], High: st.Space.Wanted[1], Start: wish.Cold}
	for _, stack := range stacks {
		pick := wish.Pick{ID: stack.ID, Stack: stack.Wood()}
		switch {
		case stack.Kindling && w.Kindling == nil:
			w.Kindling = &pick
		case w.Wood.ID == 0 && !stack.Kindling:
			w.Wood = pick
		}
	}
	if w.Wood.ID == 0 {
		return 0, store.ErrMissing
	}
	p, err := search.Best(ctx, w, search.Usual, nil)
	if err != nil {
		return 0, fmt.Errorf("planning the demo's fire: %w", err)
	}
	b := running(p, hidden, now.UTC().Truncate(time.Minute).Add(-begunBefore))
	_, err = h.StartBurn(ctx, st.ID, "", b, &p)
	return st.ID, err
}

// running is the burn of a plan in a stove of its own, as it was logged until now.
func running(p plan.Plan, hidden fire.Tuning, started time.Time) burn.Burn {
	w := p.Wish
	b := burn.Burn{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Started: started, Window: w.Help.Window,
		Wanted: [2]float64{float64(w.Low), float64(w.High)}}
	b.Coals, b.Warmth = w.Start.Coals(w.Stove.Volume)
	setup := b.Setup()
	setup.Tuning = hidden
	r := fire.Run(setup, plan.Fires(p.Steps), fire.Options{Until: begunBefore - 3*time.Minute})
	for i, step := range p.Steps {
		if i >= len(r.Done) || r.Done[i] < 0 || step.Kind == plan.ReloadTime {
			break
		}
		tap := fmt.Sprintf("demo-%d", i)
		for j, a := range step.Fire.Do {
			e, ok := burn.EntryOf(a)
			if !ok {
				continue
			}
			e.ID, e.Tap, e.At = fmt.Sprintf("%s-%d", tap, j), tap, started.Add(r.Done[i].Round(time.Second))
			b.Entries = append(b.Entries, e)
		}
	}
	look := started.Add(24 * time.Minute)
	b.Entries = append(b.Entries, burn.Entry{ID: "demo-cap", At: look, Kind: burn.Smoke, Smoke: burn.SmokeWhite},
		burn.Entry{ID: "demo-room", At: started, Kind: burn.Note, Note: fmt.Sprintf("Room %s before lighting.", units.Metric.RoomTemperature(w.Room))})
	return b
}
