package season

import (
	"cmp"
	"math"
	"slices"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
)

// Which wood when: dense pieces hold through cold nights, light ones make small quick
// fires on mild days and in the morning, gnarled ones go in when somebody watches. So the
// hours of the season are put in the order of how much they ask for density, and the
// piles that are dry by then are given out along it, the densest first.

// Hours are when a fire burns.
type Hours int

// The hours, in the order of the day.
const (
	Morning Hours = iota // 5 to 11
	Day                  // 11 to 17
	Evening              // 17 to 21
	Night                // 21 to 5: what holds to the morning
)

// HoursAt are those of a moment, in its zone.
func HoursAt(at time.Time) Hours { return HoursOf(at.Hour()) }

// HoursOf are those that an hour of the clock, 0 to 23, belongs to.
func HoursOf(h int) Hours {
	switch {
	case h >= 5 && h < 11:
		return Morning
	case h >= 11 && h < 17:
		return Day
	case h >= 17 && h < 21:
		return Evening
	}
	return Night
}

// Shares are how much of the wood is burnt in which hours, together 1.
type Shares [4]float64

// UsualShares are taken before a household has burnt anything.
var UsualShares = Shares{0.2, 0.1, 0.45, 0.25}

// Fuelwood is a pile with what decides when it is burnt.
type Fuelwood struct {
	Pile
	Density float64 // oven-dry, t/m³
	Watched bool    // gnarled: only while somebody watches
	Apart   float64 // J kept for the first splits on the kindling, and given to no hours
}

// How much hours ask for density, beside the cold: in kelvins of colder air. A night asks
// for what holds to the morning (as an evening 6 K colder would), a morning for what is
// soon warm. A judgement, and no measurement: 4 to 10 for the night and −6 to −2 for the
// morning would be as good.
var asks = [4]float64{Morning: -4, Day: -2, Evening: 0, Night: 6}

// watched tells whether somebody is there in these hours.
func (h Hours) watched() bool { return h == Day || h == Evening }

// A slot is hours of a week at one of five temperatures of its days.
type slot struct {
	week    int
	at      time.Time
	hours   Hours
	outdoor float64
	need    float64   // J in the wood
	from    []float64 // J by wood
}

// rank is how much a slot asks for density.
func (s slot) rank() float64 { return asks[s.hours] - s.outdoor }

// An Allotment is what wood is for which hours.
type Allotment struct {
	slots []slot
	woods []Fuelwood
	Short float64 // J that no dry wood is there for
}

// quintiles are the middles of five equal shares of a normal distribution, in standard
// deviations.
var quintiles = [5]float64{-1.2816, -0.5244, 0, 0.5244, 1.2816}

// Allot gives the wood out over a usual rest of the season.
func (u Use) Allot(woods []Fuelwood, c drying.Climate, shares Shares, now, end time.Time) Allotment {
	base := float64(u.Base)
	if base == 0 {
		base = float64(Base)
	}
	factor := u.Loss.Middle * u.Share.Middle / math.Max(0.05, u.Efficiency.Middle) * 86400
	apart := math.Hypot(daysApart, monthDoubt)
	a := Allotment{woods: woods}
	for w := 0; w < MostWeeks && now.Add(time.Duration(w)*week).Before(end); w++ {
		at := now.Add(time.Duration(w) * week)
		days := math.Min(7, end.Sub(at).Hours()/24)
		mean := usual(c, at.Add(time.Duration(days*12*float64(time.Hour))))
		for _, z := range quintiles {
			outdoor := mean + z*apart
			for h := range asks {
				need := factor * days / float64(len(quintiles)) * math.Max(0, base-outdoor) * shares[h]
				if need > 0 {
					a.slots = append(a.slots, slot{w, at, Hours(h), outdoor, need, make([]float64, len(woods))})
				}
			}
		}
	}
	a.give()
	return a
}

// give goes through the slots from the one that asks for density most, and takes the
// densest wood that is dry by then. Of two as dense the one that was ready first. Where
// there is more wood than winter every pile gives its share of what is asked for, so that
// light wood still warms the mild days; what that leaves missing is taken from the rest.
func (a *Allotment) give() {
	order, dry, asked := make([]int, len(a.woods)), 0.0, 0.0
	for _, s := range a.slots {
		asked += s.need
	}
	for i, w := range a.woods {
		order[i] = i
		if len(a.slots) > 0 && !w.Ready.After(a.slots[len(a.slots)-1].at) {
			dry += math.Max(0, w.Energy.Middle-w.Apart)
		}
	}
	share := math.Min(1, asked/math.Max(1, dry))
	left, rest := make([]float64, len(a.woods)), make([]float64, len(a.woods))
	for i, w := range a.woods {
		own := math.Max(0, w.Energy.Middle-w.Apart)
		left[i], rest[i] = own*share, own*(1-share)
	}
	slices.SortStableFunc(order, func(i, j int) int {
		return cmp.Or(cmp.Compare(a.woods[j].Density, a.woods[i].Density), a.woods[i].Ready.Compare(a.woods[j].Ready))
	})
	by := make([]int, len(a.slots))
	for i := range by {
		by[i] = i
	}
	slices.SortStableFunc(by, func(i, j int) int {
		return cmp.Or(cmp.Compare(a.slots[j].rank(), a.slots[i].rank()), cmp.Compare(i, j))
	})
	missing := make([]float64, len(a.slots))
	for _, s := range by {
		missing[s] = a.take(&a.slots[s], a.slots[s].need, order, left)
	}
	for _, s := range by {
		a.Short += a.take(&a.slots[s], missing[s], order, rest)
	}
}

// take gives a slot what it needs, in an order, and tells what is missing.
func (a *Allotment) take(s *slot, need float64, order []int, left []float64) float64 {
	for _, i := range order {
		if w := a.woods[i]; need <= 0 || w.Ready.After(s.at) || w.Watched && !s.hours.watched() {
			continue
		}
		taken := math.Min(need, left[i])
		s.from[i] += taken
		left[i], need = left[i]-taken, need-taken
	}
	return math.Max(0, need)
}

// A Portion is what of one wood is for which hours.
type Portion struct {
	Hours    Hours
	Energy   float64       // J
	From, To units.Celsius // outdoors, that nine tenths of it lie between
}

// Portions are what a wood is for, the most first; none of one that is left over.
func (a Allotment) Portions(wood int) []Portion {
	var out []Portion
	for h := range asks {
		p := Portion{Hours: Hours(h)}
		var at []struct{ t, e float64 }
		for _, s := range a.slots {
			if s.hours == p.Hours && s.from[wood] > 0 {
				p.Energy += s.from[wood]
				at = append(at, struct{ t, e float64 }{s.outdoor, s.from[wood]})
			}
		}
		if p.Energy == 0 {
			continue
		}
		slices.SortFunc(at, func(a, b struct{ t, e float64 }) int { return cmp.Compare(a.t, b.t) })
		// From where a twentieth of it is burnt in the colder to where one is in the milder: the
		// one coldest night of a winter would say nothing of what the wood is for.
		sum := 0.0
		p.From, p.To = units.Celsius(at[0].t), units.Celsius(at[len(at)-1].t)
		for _, x := range at {
			if sum <= 0.05*p.Energy {
				p.From = units.Celsius(x.t)
			}
			if sum += x.e; sum < 0.95*p.Energy {
				p.To = units.Celsius(x.t)
			}
		}
		out = append(out, p)
	}
	slices.SortStableFunc(out, func(a, b Portion) int { return cmp.Compare(b.Energy, a.Energy) })
	return out
}

// Used is what of a wood the season takes, J.
func (a Allotment) Used(wood int) (sum float64) {
	for _, s := range a.slots {
		sum += s.from[wood]
	}
	return sum
}

// For are the woods that are meant for a fire of these hours, at a moment and at a
// temperature outdoors, the one with most of it first. Of hours that nothing is given out
// for, those of the hours beside them.
func (a Allotment) For(at time.Time, h Hours, outdoor units.Celsius) []int {
	if out := a.meant(at, h, outdoor); len(out) > 0 {
		return out
	}
	return a.meant(at, h.beside(), outdoor)
}

// beside are the hours that ask for the same wood most nearly: who lights in the evening
// for the night burns the evening's.
func (h Hours) beside() Hours {
	if h == Night || h == Day {
		return Evening
	}
	return Day
}

func (a Allotment) meant(at time.Time, h Hours, outdoor units.Celsius) []int {
	share, best := make([]float64, len(a.woods)), math.Inf(1)
	for _, s := range a.slots {
		if s.hours != h {
			continue
		}
		// The slot that is nearest in days and in kelvins, of which one counts as three days:
		// a mild evening in January takes what a mild evening in February would.
		off := math.Abs(at.Sub(s.at.Add(week/2)).Hours()/24) + 3*math.Abs(float64(outdoor)-s.outdoor)
		if off < best-1e-9 {
			best = off
			copy(share, s.from)
		}
	}
	var out []int
	for i := range share {
		if share[i] > 0 {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(i, j int) int { return cmp.Compare(share[j], share[i]) })
	return out
}

// FirstSplits is the wood for the first splits on the kindling, by its place: the lightest
// that is dry, of two the one of smaller pieces; -1 where none is dry or all of it has to be
// watched. pieces are the masses of a piece of each.
func FirstSplits(woods []Fuelwood, pieces []units.Kilogram, now time.Time) int {
	best := -1
	for i, w := range woods {
		if w.Ready.After(now) || w.Watched || w.Energy.Middle <= 0 {
			continue
		}
		if best < 0 || cmp.Or(cmp.Compare(w.Density, woods[best].Density), cmp.Compare(pieces[i], pieces[best])) < 0 {
			best = i
		}
	}
	return best
}
