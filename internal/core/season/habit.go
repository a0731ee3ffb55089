package season

import (
	"cmp"
	"math"
	"slices"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// What a household asks of its wood is taken from the wood that it has burnt, by what was
// logged and not by what a model makes of it: how much, for every degree-day, in the last
// weeks and in the winters before. That carries everything nobody can tell beforehand: the
// sun through the windows, other heating, evenings away.

// A Spell is what was burnt in the last weeks, or in a winter that is behind.
type Spell struct {
	Energy     float64 // J, net, in the wood that was logged
	DegreeDays float64 // K·d of the same time, under [Base]
	Burns      int
	Whole      bool // a winter that is behind, and not some weeks of one
}

// What is taken before a household has burnt anything, and how far off a few burns are. Of
// n burns the doubt is burnsApart ÷ √n: after five the range is still as wide as of a
// household that nobody knows, after forty it is about an eighth. Some weeks stand for the
// rest of a winter as far as weeksApart goes, a winter for the next as far as
// wintersApart does: people are away, fall ill, buy another boiler.
const (
	leastShareDoubt = 0.08 // however much was burnt: no winter is lived like the last
	leastBurns      = 5
	burnsApart      = 0.8 // of the logarithm of one burn against another; 0.5 to 1
	weeksApart      = 0.15
	wintersApart    = 0.18
)

// shares are how much of a space's heat comes from wood by what else heats it, and how far
// off that may be, as the standard deviation of its logarithm: a judgement by how
// households with a stove heat, and no measurement.
var shares = map[house.Helper]About{
	house.Unsaid:  {0.65, 0.5},
	house.Nothing: {0.95, 0.15},
	house.Some:    {0.75, 0.25},
	house.Half:    {0.5, 0.35},
	house.Most:    {0.2, 0.6},
}

// ShareOf is the share of a space's heat that comes from wood where such a helper is.
func ShareOf(h house.Helper) About {
	if a, there := shares[h]; there {
		return a
	}
	return shares[house.Unsaid]
}

// From is a household's use of wood: heat loss and efficiency as they are known, and the
// share by the wood that was burnt in some spells, each with its own weight; usual is what
// is taken where hardly any was. known is false then.
//
// The share is reckoned with the loss and the efficiency that are given, so that what comes
// out as wood for a degree-day is what was burnt for one, whatever they are taken for:
// learning a better efficiency does not make a pile last longer.
func From(loss, efficiency, usual About, spells ...Spell) (u Use, known bool) {
	u = Use{Loss: loss, Efficiency: efficiency, Share: usual}
	sum, weight := 0.0, 0.0
	for _, l := range spells {
		if l.Burns < leastBurns || l.DegreeDays <= 0 || l.Energy <= 0 {
			continue
		}
		apart := weeksApart
		if l.Whole {
			apart = wintersApart
		}
		w := 1 / (apart*apart + burnsApart*burnsApart/float64(l.Burns))
		sum, weight = sum+w*math.Log(l.Energy/l.DegreeDays), weight+w
	}
	if weight <= 0 || loss.Middle <= 0 || efficiency.Middle <= 0 {
		return u, false
	}
	perDay := math.Exp(sum / weight) // J in wood for a degree-day
	u.Share = About{perDay * efficiency.Middle / (loss.Middle * 86400), math.Hypot(leastShareDoubt, 1/math.Sqrt(weight))}
	// The share was worked out with this loss and this efficiency: what they are off, it is
	// off the other way, and the wood needed is not.
	u.Loss.Doubt, u.Efficiency.Doubt = 0, 0
	return u, true
}

// Warmer is the same use in a room that is kept warmer by some kelvins, or cooler.
func (u Use) Warmer(k float64) Use {
	if u.Base == 0 {
		u.Base = Base
	}
	u.Base += units.Celsius(k)
	return u
}

// Fewer is the same use with one burn in so many left out.
func (u Use) Fewer(oneIn float64) Use {
	u.Share.Middle *= math.Max(0, 1-1/math.Max(1, oneIn))
	return u
}

// heating is the air outdoors under which a month is one of the heating season.
const heating units.Celsius = 11

// Span is the heating season that a moment lies in, or the next one: whole months whose
// usual air is under 11 °C, the three of summer left out, in the moment's zone. A climate
// without any has none: both are zero.
func Span(c drying.Climate, now time.Time) (start, end time.Time) {
	warm := summer(c)
	cold := func(t time.Time) bool { return c.Months[t.Month()-1].Air < heating && !warm[t.Month()-1] }
	month := time.Date(now.Year(), now.Month(), 1, 0, 0, 0, 0, now.Location())
	for n := 0; !cold(month); n++ {
		if n == 12 {
			return time.Time{}, time.Time{}
		}
		month = month.AddDate(0, 1, 0)
	}
	start, end = month, month
	for n := 0; n < 12 && cold(start.AddDate(0, -1, 0)) && !now.Before(month); n++ {
		start = start.AddDate(0, -1, 0)
	}
	for n := 0; n < 12 && cold(end); n++ {
		end = end.AddDate(0, 1, 0)
	}
	return start, end
}

// summer are the three warmest months, that are none of the heating season however cold:
// where it is heated all the year, the wood is counted to the end of spring.
func summer(c drying.Climate) (out [12]bool) {
	order := make([]int, 12)
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(i, j int) int { return cmp.Compare(c.Months[j].Air, c.Months[i].Air) })
	for _, i := range order[:3] {
		out[i] = true
	}
	return out
}

// Days are the degree-days that are usual between two moments.
func Days(c drying.Climate, from, to time.Time) float64 {
	sum := 0.0
	for at := from; at.Before(to); at = at.Add(24 * time.Hour) {
		days := math.Min(1, to.Sub(at).Hours()/24)
		sum += days * cold(float64(Base), usual(c, at.Add(12*time.Hour)))
	}
	return sum
}

// ByOutdoor are the degree-days of some days whose mean outdoors is known.
func ByOutdoor(mean units.Celsius, days float64) float64 {
	return days * cold(float64(Base), float64(mean))
}

// HalfWay is the day by which half of a usual season's heat is asked for.
func HalfWay(c drying.Climate, start, end time.Time) time.Time {
	whole, behind := Days(c, start, end), 0.0
	for at := start; at.Before(end); at = at.Add(24 * time.Hour) {
		if behind += Days(c, at, at.Add(24*time.Hour)); behind >= whole/2 {
			return at
		}
	}
	return end
}

// UsualAir is the usual mean outdoors at a moment in a climate.
func UsualAir(c drying.Climate, at time.Time) units.Celsius { return units.Celsius(usual(c, at)) }
