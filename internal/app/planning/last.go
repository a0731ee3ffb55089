package planning

import (
	"context"
	"errors"
	"math"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/wish"
	"smolder/internal/store"
)

// LastTime is how a stove's newest burn with a load was made, with its pieces counted as they
// lie on their stacks; false: there is none. A stack that is off the list is no wish for it.
func (h *Household) LastTime(ctx context.Context, stove int64) (wish.Fixed, fire.Lay, bool, error) {
	lines, err := h.Burns(ctx, h.Now.Add(time.Second), lookedThrough)
	if err != nil {
		return wish.Fixed{}, "", false, err
	}
	read := 0
	for _, line := range lines {
		if line.StoveID != stove || read == mostRead {
			continue
		}
		read++
		b, err := h.LoggedBurn(ctx, line.ID)
		if errors.Is(err, store.ErrUnreadable) {
			continue
		}
		if err != nil {
			return wish.Fixed{}, "", false, err
		}
		done := b.AsDone()
		if done.First.Pieces == 0 && done.Main.Pieces == 0 {
			continue // begun, and nothing put on
		}
		f, lay, err := h.again(done)
		return f, lay, f.Any(), err
	}
	return wish.Fixed{}, "", false, nil
}

// How far back a burn to do again is looked for: so many burns of all stoves, and so many of
// this one that are read.
const lookedThrough, mostRead = 80, 5

// again is what was done as a wish to do it again.
func (h *Household) again(d burn.Done) (wish.Fixed, fire.Lay, error) {
	f := wish.Fixed{Direction: d.Way, Brisk: d.Brisk, Final: d.Final}
	stacks, err := h.Stacks()
	if err != nil {
		return f, "", err
	}
	// A piece of a first fire may have been split again: the mass tells how many there were.
	count := func(l fire.Load) (pieces int, of int64) {
		for _, s := range stacks {
			if s.ID == l.StackID && s.PieceMass > 0 {
				return max(1, int(math.Round(float64(l.Mass()/s.PieceMass)))), s.ID
			}
		}
		return l.Pieces, 0
	}
	if d.First.Pieces > 0 {
		f.First, f.FirstOf = count(d.First)
		f.Main = wish.NoLoad
	}
	if d.Main.Pieces > 0 {
		f.Main, f.MainOf = count(d.Main)
	}
	if f.Final >= f.Brisk {
		f.Brisk, f.Final = 0, 0 // never turned down: nothing to do again
	}
	return f, d.Lay, nil
}
