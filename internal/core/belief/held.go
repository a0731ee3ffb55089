package belief

import (
	"math"
	"time"

	"smolder/internal/core/stove"
)

// How wide a forecast must be to hold what it says.
//
// The members differ in what nobody knows of a stove; that the model itself is wrong they do
// not know. Two things make up for it. A forecast is wider than its members by a factor for
// each kind of gauge and how far ahead it looks: what it took on evenings of stoves of
// another make in three houses on a first day, and for flue and top a little more when all days
// had been seen (docs/coach.md). And that factor follows the stove at hand: each time a reading falls outside of what was foretold
// for it, the intervals of that gauge grow a little, each time inside they shrink a little
// less, so that in the long run eight in ten hold, whatever the model misses (adaptive
// conformal intervals, Gibbs & Candès 2021). It is bounded on both sides.
const (
	wanted     = 0.8  // of the readings, that an interval holds
	learnsBy   = 0.12 // of the logarithm of the factor, for each reading outside
	leastHeld  = 0.7  // of the usual factor
	mostHeld   = 3.0
	nearLead   = 30 * time.Minute
	farLead    = 3 * time.Hour
	leastApart = 4 * time.Minute // between two readings of a gauge, for the first to foretell the second
)

// heldBy are the usual factors: for half an hour ahead and for three hours.
var heldBy = map[stove.Place][2]float64{
	stove.ConnectorProbe: {2, 2.9}, stove.ConnectorSurface: {2, 2.9}, stove.Top: {1.8, 2.4}, stove.CatalystProbe: {3.4, 6}, stove.FireboxProbe: {2, 2.6},
	stove.RoomAir: {1.1, 2.2},
}

// widths are the factors of this stove's gauges over the usual ones.
type widths [misses]float64

// of is by how much an interval of a gauge so far ahead is wider than the members.
func (w *widths) of(p stove.Place, lead time.Duration) float64 {
	by, ok := heldBy[p]
	switch {
	case !ok && p.OfFire():
		by = heldBy[stove.ConnectorSurface] // of a gauge of which no evenings are at hand
	case !ok:
		return 1
	}
	far := clamp(float64(lead-nearLead)/float64(farLead-nearLead), 0, 1)
	near := clamp(float64(lead)/float64(nearLead), 0, 1) // what is read now is what is read now
	usual := by[0]*math.Pow(by[1]/by[0], far)*math.Exp(w[missOf[p]]) - 1
	return 1 + near*usual
}

// learn takes in whether a reading lay inside of what was foretold for it.
func (w *widths) learn(p stove.Place, inside bool) {
	by := -learnsBy * (1 - wanted)
	if !inside {
		by = learnsBy * wanted
	}
	i := missOf[p]
	w[i] = clamp(w[i]+by, math.Log(leastHeld), math.Log(mostHeld))
}

// foretold looks, before a reading is taken in, whether the members would have held it, and
// lets the widths of its gauge follow.
func (b *Belief) foretold(e Event) {
	s := e.Seen
	i, known := missOf[s.Place]
	if s.Sight != Reading || !known || len(b.members) == 0 {
		return
	}
	last := b.members[0].misses[i]
	if !last.seen || e.At-last.at < leastApart {
		return
	}
	weights := b.weights()
	values := make([]float64, len(b.members))
	spread := 0.0
	for k, m := range b.members {
		would, ok := m.fire.Reading(s.Place)
		if !ok {
			return
		}
		room := float64(m.fire.Room())
		sigma, lasts := errorOf(s.Place, would, room, 0)
		miss := m.misses[i]
		keeps := fade(e.At-miss.at, lasts)
		values[k] = would + sigma*keeps*miss.by
		spread += weights[k] * sigma * math.Sqrt(1-keeps*keeps+readingOff*readingOff)
	}
	low, middle, high := threeOf(values, weights, make([]int, len(values)))
	by := b.wide.of(s.Place, max(nearLead, e.At-last.at))
	half := func(side float64) float64 { return by * math.Hypot(side, tenthOut*spread) }
	b.wide.learn(s.Place, s.Value >= middle-half(middle-low) && s.Value <= middle+half(high-middle))
}

// tenthOut is how many standard deviations a tenth lies out.
const tenthOut = 1.2816

// widen lets a fan of a gauge be as wide as it must be; every is how far its values lie
// apart.
func (w *widths) widen(f *Fan, p stove.Place, every time.Duration) {
	for i := range f.Middle {
		by := w.of(p, time.Duration(i)*every)
		f.Low[i] = f.Middle[i] - by*(f.Middle[i]-f.Low[i])
		f.High[i] = f.Middle[i] + by*(f.High[i]-f.Middle[i])
	}
}
