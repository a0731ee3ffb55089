// Package shed is the view of a household's stacks: how dry each is at a moment, what is left of
// it, and when it will be ready. None of that is kept: it follows from what was told, read,
// counted and logged, which is what the store has.
//
//	wood, err := s.Of(ctx, home, now)
//	for _, st := range wood.Stacks { fmt.Println(st.Name, st.Moist.Middle, st.Left.Middle) }
package shed

import (
	"context"
	"database/sql"
	"runtime"
	"slices"
	"time"

	"golang.org/x/sync/errgroup"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// A Stack is a stack as it is at a moment: its piece and its mass are as wet as the wood is
// then.
type Stack struct {
	store.Stack
	Moist     wood.Estimate  // of dry wood
	Ready     drying.Date    // when it comes down to [wood.ReadyTo]
	Count     wood.Amount    // oven-dry, as it was counted last, with what was put on it since
	Left      wood.Amount    // oven-dry, now
	CountedAt time.Time      // the zero time: never
	Used      units.Kilogram // oven-dry, logged since
}

// Counted is the mass of what was counted, as wet as it is now.
func (s Stack) Counted() units.Kilogram { return s.AsIs(s.Count.Middle) }

// AsIs is the mass of oven-dry wood of this stack with its water.
func (s Stack) AsIs(dry units.Kilogram) units.Kilogram {
	return dry * units.Kilogram(1+float64(s.Moisture()))
}

// Wood is it as package wood has it.
func (s Stack) Wood() wood.Stack { return s.Stack.Stack }

// As is the stack with its wood as it is somewhere else, by the stove for one.
func (s Stack) As(w wood.Stack) Stack {
	s.Stack.Stack = w
	return s
}

// Row is the stack as it is to be kept: its piece was told of wood as wet as it is now.
func (s Stack) Row() store.Stack {
	row := s.Stack
	row.PieceMoisture = s.Moisture()
	return row
}

// Wood is all that a household has at a moment.
type Wood struct {
	Stacks   []Stack       // kindling last
	Unlogged wood.Unlogged // how much more is burnt than is logged, by recounts
	gone     []store.Stack
}

// Stack is one of them; [store.ErrMissing] where there is none of that number.
func (w Wood) Stack(id int64) (Stack, error) {
	i := slices.IndexFunc(w.Stacks, func(st Stack) bool { return st.ID == id })
	if i < 0 {
		return Stack{}, store.ErrMissing
	}
	return w.Stacks[i], nil
}

// A Shed works out how stacks are. It remembers how they dried, so that one serves a whole
// process; its zero value is ready.
type Shed struct {
	dry   memory[dried]
	split memory[drying.Date]
}

// Of is a household's wood at a moment, in the household's zone.
func (s *Shed) Of(ctx context.Context, h store.Household, now time.Time) (Wood, error) {
	all, err := h.Stacks(ctx)
	if err != nil {
		return Wood{}, err
	}
	// Recounts of stacks that are off the list teach as well as the others.
	w := Wood{Unlogged: wood.UnloggedBy(recounts(all))}
	var listed []store.Stack
	for _, r := range all {
		if r.Removed {
			w.gone = append(w.gone, r)
		} else {
			listed = append(listed, r)
		}
	}
	w.Stacks = s.stacks(listed, w.Unlogged, now)
	return w, nil
}

// Stacks are those of [Shed.Of].
func (s *Shed) Stacks(ctx context.Context, h store.Household, now time.Time) ([]Stack, error) {
	w, err := s.Of(ctx, h, now)
	return w.Stacks, err
}

// Gone are the stacks of a household's wood that were taken off the list.
func (s *Shed) Gone(w Wood, now time.Time) []Stack { return s.stacks(w.gone, w.Unlogged, now) }

// Stack is one stack; [store.ErrMissing] where there is none of that number.
func (s *Shed) Stack(ctx context.Context, h store.Household, id int64, now time.Time) (Stack, error) {
	w, err := s.Of(ctx, h, now)
	if err != nil {
		return Stack{}, err
	}
	return w.Stack(id)
}

func (s *Shed) stacks(rows []store.Stack, unlogged wood.Unlogged, now time.Time) []Stack {
	out := make([]Stack, len(rows))
	var all errgroup.Group
	all.SetLimit(runtime.GOMAXPROCS(0))
	for i, r := range rows {
		all.Go(func() error {
			out[i] = Stack{Stack: r}
			out[i].count(unlogged)
			out[i].dries(&s.dry, now)
			return nil
		})
	}
	_ = all.Wait() // none fails
	return out
}

// count works out what is left: what was counted, with what was put on it, less what was
// logged, by so much more as recounts have shown.
func (s *Stack) count(unlogged wood.Unlogged) {
	factor := units.Kilogram(1)
	if unlogged.Known() {
		factor = units.Kilogram(unlogged.Middle)
	}
	var left units.Kilogram
	for _, c := range s.Counts {
		if c.Adds {
			s.Count, left = s.Count.Plus(c.Amount), left+c.Amount.Middle
		} else {
			s.Count, left, s.Used, s.CountedAt = c.Amount, c.Amount.Middle, 0, c.At
		}
		if s.CountedAt.IsZero() {
			s.CountedAt = c.At
		}
		s.Used += c.Used
		left = max(0, left-c.Used*factor)
	}
	s.Left = s.Count
	s.Left.Middle = left
}

// recounts are the counts of stacks of wood, each with what was logged since the one before.
func recounts(stacks []store.Stack) (out []wood.Recount) {
	for _, s := range stacks {
		if !s.Species.Mineral {
			out = append(out, recountsOf(s.Counts)...)
		}
	}
	return out
}

func recountsOf(counts []store.StackCount) (out []wood.Recount) {
	var before *wood.Amount
	var logged, added units.Kilogram
	for _, c := range counts {
		if c.Adds {
			added += c.Amount.Middle
		} else {
			if before != nil {
				out = append(out, wood.Recount{Before: *before, After: c.Amount, Logged: logged, Added: added})
			}
			before, logged, added = &c.Amount, 0, 0
		}
		logged += c.Used
	}
	return out
}

// Bare is a stack of which only what package wood knows is told: a meter's reading in one
// piece, and a mass.
func Bare(w wood.Stack) (store.Stack, *store.StackReading, *store.StackCount) {
	var r *store.StackReading
	if !w.Species.Mineral {
		r = &store.StackReading{Reading: w.Reading, Pieces: 1, WoodTemp: sql.Null[float64]{V: float64(w.WoodTemp), Valid: true}}
	}
	a := wood.Weighed(w.Mass, w.Moisture(), 0)
	return store.Stack{Stack: w, PieceMoisture: w.Moisture()}, r, &store.StackCount{Way: wood.OnScale, Typed: units.Metric.Mass(w.Mass), Amount: a}
}
