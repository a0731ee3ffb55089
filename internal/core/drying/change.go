package drying

import (
	"cmp"
	"slices"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Change is something that an owner can do for a stack.
type Change string

// The changes.
const (
	Split     Change = "split"     // rounds
	Smaller   Change = "smaller"   // each piece in two
	UnderRoof Change = "roof"      // a roof, open at the sides
	Uncovered Change = "unwrapped" // out of its sheet, covered on top
	ToWind    Change = "wind"      // to where the wind goes
	ToSun     Change = "sun"
	OffGround Change = "pallet"
	Turned    Change = "turned"
	Stacked   Change = "stacked" // what lies as it was tipped
	Sawn      Change = "sawn"    // long pieces, to the stove's length
	Whole     Change = "whole"   // split, under a roof, off the ground, in the wind: all that applies
)

// halved is the thickness of a piece split in two along the grain, as a share.
const halved = 0.707

// changes are what may be done, each to what lies and how; false: there is nothing to do.
// Each is written as what an owner would find after it, so that one who has a roof is never
// told to build one.
var changes = []struct {
	key Change
	do  func(*Pieces, *Place) bool
}{
	{Split, func(p *Pieces, _ *Place) bool { was := p.Round; p.Round = false; return was }},
	{Smaller, func(p *Pieces, _ *Place) bool { p.Thickness *= halved; return !p.Round && p.Thickness > 0.04 }},
	{UnderRoof, func(_ *Pieces, l *Place) bool {
		was := l.Cover
		l.Cover = wood.Roof
		return was != wood.Roof && was != wood.Inside
	}},
	{Uncovered, func(_ *Pieces, l *Place) bool { was := l.Cover; l.Cover = wood.Top; return was == wood.Wrap }},
	{ToWind, func(_ *Pieces, l *Place) bool {
		was := l.Wind
		l.Wind = 1
		return was < 0.9 && l.Cover != wood.Inside && l.Cover != wood.Wrap
	}},
	{ToSun, func(_ *Pieces, l *Place) bool { was := l.Sun; l.Sun = 1; return was < 0.9 && l.Cover != wood.Inside }},
	{Stacked, func(_ *Pieces, l *Place) bool { was := l.Heap; l.Heap = false; return was }},
	{Sawn, func(p *Pieces, _ *Place) bool { was := p.Length > 2*usualLength; p.Length = usualLength; return was }},
	{OffGround, func(_ *Pieces, l *Place) bool { was := l.OnGround; l.OnGround = false; return was }},
	{Whole, func(p *Pieces, l *Place) bool {
		is := Place{Cover: wood.Roof, Wind: 1, Sun: l.Sun}
		several := p.Round && *l != is || l.OnGround && l.Cover != wood.Roof || l.Cover != wood.Roof && l.Wind < 0.9
		*l, p.Round = is, false
		return several
	}},
	{Turned, func(_ *Pieces, l *Place) bool { l.Turned = true; return l.Cover != wood.Inside }},
}

// An Option is a change with the date it would lead to.
type Option struct {
	Change Change
	Ready  Date
	Gain   time.Duration // sooner than as it lies; as far as is looked where it would not be ready at all
}

// leastGain is a change worth the work.
const leastGain = 7 * 24 * time.Hour

// Options are the changes that would bring a stack down to a moisture sooner, the most
// first; none for one that is there already.
func (b Belief) Options(target units.Fraction) []Option {
	is := b.Ready(target)
	likely := is.Likely
	if likely.IsZero() {
		likely = b.at.Add(Furthest)
	}
	var out []Option
	if !likely.After(b.at) {
		return out
	}
	for _, c := range changes {
		p, l := b.stack.Pieces, b.stack.Place
		l.Cover = l.cover()
		if !c.do(&p, &l) {
			continue
		}
		d := b.Changed(p, l).Ready(target)
		if d.Likely.IsZero() || likely.Sub(d.Likely) < leastGain {
			continue
		}
		out = append(out, Option{c.key, d, likely.Sub(d.Likely)})
	}
	// All of it together stands only where it is worth more than the best of it alone.
	best := time.Duration(0)
	for _, o := range out {
		if o.Change != Whole {
			best = max(best, o.Gain)
		}
	}
	out = slices.DeleteFunc(out, func(o Option) bool { return o.Change == Whole && o.Gain-best < 2*leastGain })
	slices.SortStableFunc(out, func(a, b Option) int { return cmp.Compare(b.Gain, a.Gain) })
	return out
}

// usualPieces is how many pieces a careful owner reads at once.
const usualPieces = 4

// NextReading is when another reading of some pieces would tell most of what it can: the
// first of the coming months after which it leaves no more than six tenths of the width
// of the ready date, else the month that leaves least. ok is false where none leaves less
// than nine tenths.
func (b Belief) NextReading(target units.Fraction) (at time.Time, share float64, ok bool) {
	const enough, worth = 0.6, 0.9
	share = 1
	ready := b.Ready(target)
	for months := range 8 {
		then := b.at.AddDate(0, months, 0)
		if months == 0 {
			then = b.at.Add(24 * time.Hour)
		}
		if months > 0 && !ready.Likely.IsZero() && then.After(ready.Likely) {
			break
		}
		left, some := b.After(then, usualPieces, target)
		if !some {
			continue
		}
		if left < share {
			at, share = then, left
		}
		if share <= enough {
			break
		}
	}
	return at, share, share < worth
}
