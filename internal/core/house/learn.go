package house

import (
	"math"
	"time"

	"smolder/internal/core/units"
)

// A Span is a stretch of logged time: what the room and the weather did, and
// what the stove gave.
type Span struct {
	Length        time.Duration
	Room, Outdoor units.Celsius // mean
	Rise          units.Celsius // of the room, from its beginning to its end
	Heat          units.Joule   // delivered
}

// A Learned is a heat loss with its doubt, W/K.
type Learned struct {
	Loss, Doubt float64
	Spans       int
}

// lossDoubt is how far off the loss by floor and build may be, as a standard
// deviation of its logarithm; heatDoubt how far off the heat of a span, as a
// share; riseDoubt how well a room thermometer tells a rise, K.
const (
	lossDoubt = 0.4
	heatDoubt = 0.15
	riseDoubt = 0.3
)

// LearnLoss finds the house's UA from logged spans: the loss with which the
// room, heated as it was, rises as it did. Bayes' rule on a grid of
// ln UA about the loss by floor and build. Spans shorter than an hour, or hardly
// warmer than outdoors, say nothing and are left out.
func (h House) LearnLoss(spans []Span) Learned {
	prior := h
	prior.Learned = 0
	before := prior.Loss()
	var telling []Span
	for _, s := range spans {
		if s.Length >= time.Hour && s.Length <= 24*time.Hour && s.Room-s.Outdoor >= 3 {
			telling = append(telling, s)
		}
	}
	const half = 40 // grid points on either side, to four standard deviations
	var logs [2*half + 1]float64
	best := math.Inf(-1)
	for i := range logs {
		z := 4 * float64(i-half) / half
		logs[i] = -z * z / 2
		for _, s := range telling {
			logs[i] -= prior.misfit(before*math.Exp(z*lossDoubt), s)
		}
		best = math.Max(best, logs[i])
	}
	sum, mean, square := 0.0, 0.0, 0.0
	for i, l := range logs {
		ua := before * math.Exp(4*float64(i-half)/half*lossDoubt)
		w := math.Exp(l - best)
		sum, mean, square = sum+w, mean+w*ua, square+w*ua*ua
	}
	mean, square = mean/sum, square/sum
	return Learned{mean, math.Sqrt(math.Max(0, square-mean*mean)), len(telling)}
}

// misfit is half the squared error of a span's rise under a loss, in doubts.
func (h House) misfit(loss float64, s Span) float64 {
	h.Learned = loss
	begin := s.Room - s.Rise/2
	power := units.Watt(float64(s.Heat) / s.Length.Seconds())
	rise := func(w units.Watt) float64 {
		rooms := h.Through(Settled(begin), s.Length, func(time.Duration) units.Watt { return w },
			func(time.Duration) units.Celsius { return s.Outdoor })
		return float64(rooms[len(rooms)-1].Air - begin)
	}
	middle := rise(power)
	doubt := math.Hypot(riseDoubt, rise(power*(1+heatDoubt))-middle)
	e := (float64(s.Rise) - middle) / doubt
	return e * e / 2
}

// WithLoss returns the house with a learned heat loss in place of the one by
// floor and build.
func (h House) WithLoss(l Learned) House {
	if l.Spans > 0 {
		h.Learned = l.Loss
	}
	return h
}
