package wish

import (
	"slices"

	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Fixed is what an owner wants done in their own way. A search keeps it, finds the rest,
// and says what it costs against what it would have found.
type Fixed struct {
	First     int             // pieces to light with; 0: as many as is best
	Main      int             // pieces on the coals; 0: as many as is best; [NoLoad]: none
	FirstOf   int64           // the stack to light with, by its number; 0: whichever is best
	MainOf    int64           // and that of the load on the coals
	Direction stove.Direction // empty: whichever is best
	Brisk     float64         // opening of the main air that wood chars with; 0: as is best
	Final     float64         // and at the end of the turn-down; 0: as is best
	Each      int             // pieces at a time on the coals, then as later loads; 0: as many as is best
	Most      units.Kilogram  // of wood in all, kindling left out; 0: as much as serves
	BySize    bool            // the first fire is fed by size: fine kindling, thumb-thick, wrist-thick, splits
}

// NoLoad is the number of pieces on the coals of who wants a first fire and nothing on it.
const NoLoad = -1

// Any tells whether anything is fixed.
func (f Fixed) Any() bool { return f != Fixed{} }

// Lights tells whether a stack, one of [Wish.Woods], may be lit with.
func (w Wish) Lights(of int) bool { return w.Fixed.FirstOf == 0 || w.Woods()[of].ID == w.Fixed.FirstOf }

// Feeds tells whether a stack, one of [Wish.Woods], may be put on the coals.
func (w Wish) Feeds(of int) bool { return w.Fixed.MainOf == 0 || w.Woods()[of].ID == w.Fixed.MainOf }

// Lies tells whether pieces may lie in that direction.
func (w Wish) Lies(d stove.Direction) bool {
	return w.Fixed.Direction == "" || w.Fixed.Direction == d
}

// Why what is fixed cannot be, with the quantities of each.
const (
	FixedWay    reason.Code = "wish/fixed-way"    // direction, the longest piece that lies in it
	FixedPieces reason.Code = "wish/fixed-pieces" // pieces, what they weigh, the most that the stove takes of them
	FixedAir    reason.Code = "wish/fixed-air"    // the air's control
	FixedLittle reason.Code = "wish/fixed-little" // wood in all, a piece of the lightest
)

// refusedFixed says why what is fixed cannot be done at all; nil: it can.
func (w Wish) refusedFixed() *Refusal {
	f := w.Fixed
	places := make([]int, len(w.Woods()))
	for i := range places {
		places[i] = i
	}
	main := slices.DeleteFunc(slices.Clone(places), func(i int) bool { return !w.Feeds(i) })
	first := slices.DeleteFunc(places, func(i int) bool { return !w.Lights(i) })
	fits := func(of []int) bool {
		return slices.ContainsFunc(of, func(i int) bool { return f.Direction == "" || w.Fits(i, f.Direction) })
	}
	if !fits(main) || w.Start.FirstFire() && !fits(first) {
		return refuse(FixedWay, reason.Term(string(f.Direction)), reason.Size(w.Stove.LongestPiece(f.Direction)))
	}
	if r := w.tooMany(max(f.Main, f.Each), main); r != nil {
		return r
	}
	if r := w.tooMany(f.First, first); r != nil && w.Start.FirstFire() {
		return r
	}
	if f.Final > 0 && f.Brisk > 0 && f.Final >= f.Brisk {
		air, _ := w.Stove.MainAir()
		return refuse(FixedAir, reason.Text(air.Name))
	}
	if f.Most > 0 && !slices.ContainsFunc(append(main, first...), func(i int) bool { return w.Woods()[i].Stack.PieceMass <= f.Most }) {
		lightest := w.Wood.Stack.PieceMass
		for _, p := range w.Woods() {
			lightest = min(lightest, p.Stack.PieceMass)
		}
		return refuse(FixedLittle, reason.Mass(f.Most), reason.Mass(lightest))
	}
	return nil
}

// tooMany refuses more pieces than any of some stacks gives the stove at once.
func (w Wish) tooMany(pieces int, of []int) *Refusal {
	most, mass := 0, units.Kilogram(0)
	for _, i := range of {
		if n := w.MostPieces(i); n > most {
			most, mass = n, w.Woods()[i].Stack.PieceMass
		}
	}
	if pieces <= most {
		return nil
	}
	return refuse(FixedPieces, reason.Number(float64(pieces), 0), reason.Mass(mass*units.Kilogram(pieces)), reason.Number(float64(most), 0))
}
