// Package review looks at a burn that is over: what it came to, what would have gone
// better otherwise, and whether last time's one thing was done.
//
// [Of] makes a [Review] from the log, the gauges and the belief. A [Finding] is something
// that its maker could have done otherwise; each carries the [Edit]s that make the burn
// that other one, and the difference that they would have made in all the worlds in which
// the burn may have been ([Past]). The first is the one thing to change next time: plan
// and coach carry it ([Aim]), and the next review says what came of it ([Answer]).
//
// A Review is plain numbers, so that thousands can be kept, filtered and compared without
// burning any of them again. Sentences are in package say.
package review

import (
	"math"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/learn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Version counts up when what a review says changes: those that are kept are made again.
const Version = 4

// A Review is what a burn came to.
type Review struct {
	Simulated bool
	Gauge     stove.Place // that bands are judged by
	Band      [3]float64  // of it: works from, to, too hot from, °C
	FromLog   bool        // by the owner's readings, and not by the replay
	Length    time.Duration
	Phases    []Phase

	Cold, Working, TooHot, Unknown time.Duration // of the gauge's band
	Smoulder                       time.Duration // minutes in which gas left unburnt
	ToDraft, ToWorking             time.Duration // since the match; negative: never
	Recoveries                     []Recovery
	PerHour                        float64 // kg of dry wood an hour while it flamed

	Used, Mineral     units.Kilogram
	In                units.Joule // net energy of the wood put on, kindling too
	Burnt             units.Joule // of it, and of the coals before, without what was left
	HeatLow, HeatHigh units.Joule // by what was burnt and what went up the flue
	HeatMiddle        units.Joule
	EffLow, EffHigh   units.Fraction // net
	ByReplay          units.Fraction
	ByGas             units.Fraction // 0: no gas was read
	House             ByHouse

	Smoke       float64   // g
	SmokePerKg  float64   // g per kg of dry wood
	Deposits    []float64 // g a section of the flue, the horizontal run last
	Coals       units.Kilogram
	Held        time.Duration // in which the room was as warm as wanted
	KelvinHours float64       // between room and outdoors, over the burn
	Peak        units.Celsius // of the gauge
	Outdoor     units.Celsius
	Way         Way
	Thumb       []int16        // the gauge, evenly over the burn, °C; see [ThumbPoints]
	Wetter      units.Fraction // of the wood than was said, points, by what was burnt
	Give        units.Fraction // and how far that may be off, as a standard deviation
	Known       float64        // K that the gauge was foretold to, by what was known; 0: was not foretold
	Usual       float64        // and by what is usual

	Dangers  []Danger       // before any finding
	Unburnt  units.Kilogram // wood that was left, oven-dry, as the replay has it; coals are Coals
	OnDead   int            // loads that were put on too few coals, without kindling
	Findings []Finding
	Answer   *Answer
}

// A Phase is a state of the burn from a moment on.
type Phase struct {
	At   time.Duration
	Name fire.Phase
}

// A Recovery is how long the gauge took back to its band after a load.
type Recovery struct{ At, Took time.Duration } // Took is negative: it did not come back

// ByHouse is the heat that the room's own temperature tells of.
type ByHouse struct {
	Low, Middle, High units.Joule
	Readings          int // of the room; 0: too few to tell
}

// ThumbPoints is how many points the small strip of a burn has.
const ThumbPoints = 48

const (
	// steadyDraft is what a flue pulls that keeps its own draft, Pa; held for steadyFor.
	steadyDraft units.Pascal = 6
	steadyFor                = 5 * time.Minute
	// leastRoom is how many readings of a room tell of its heat.
	leastRoom = 3
)

// Of reviews a burn, with what was known of its stove before it. Past is nil for a burn on
// mineral fuel, which is recorded and not simulated.
func Of(b burn.Burn, before learn.Known) (Review, *Past) {
	if !b.Simulated() {
		return of(b, burn.Measure(b, b.Ended)), nil
	}
	p := NewPast(b, before)
	p.aside = true // it is made in the background
	m := p.Measures()
	r := of(b, m)
	// What was burnt is known by the worlds, and what one gauge says of the loss by [burn.Measures].
	r.fromWorlds(p.HeatToRoom(), m)
	r.Wetter, r.Give = p.Sight.Wetter, p.Sight.Give
	r.House = byHouse(b, m, p.Sight)
	r.Findings = Find(p, m)
	return r, p
}

// fromWorlds widens the efficiency, and the heat with it, to what the worlds have: heat is
// what was burnt times the efficiency, in the middle and at both ends.
func (r *Review) fromWorlds(heat Range, m burn.Measures) {
	if heat.Middle <= 0 || m.Burnt <= 0 {
		return
	}
	share := func(v float64) units.Fraction { return units.Fraction(math.Max(0, math.Min(0.95, v/float64(m.Burnt)))) }
	r.EffLow, r.EffHigh = min(r.EffLow, share(heat.Low)), max(r.EffHigh, share(heat.High))
	r.HeatLow, r.HeatHigh = m.Burnt*units.Joule(r.EffLow), m.Burnt*units.Joule(r.EffHigh)
	r.HeatMiddle = units.Joule(math.Min(float64(r.HeatHigh), math.Max(float64(r.HeatLow), heat.Middle)))
}

// Quick is a review without what nobody has waited for yet: no worlds, no findings.
func Quick(b burn.Burn) Review {
	return Upto(b, burn.Measure(b, b.Ended))
}

// Upto is such a review of measures that somebody has taken already.
func Upto(b burn.Burn, m burn.Measures) Review {
	r := of(b, m)
	r.HeatMiddle = (r.HeatLow + r.HeatHigh) / 2
	return r
}

// of puts measures into a review.
func of(b burn.Burn, m burn.Measures) Review {
	sum := m.Replay.Summary
	band := m.Gauge.Band
	r := Review{Simulated: m.Simulated, Gauge: m.Gauge.Place, Band: [3]float64{float64(band.Low), float64(band.High), float64(band.TooHot)},
		FromLog: m.Source == burn.FromReadings, Length: m.Length,
		Cold: m.Cold, Working: m.Working, TooHot: m.TooHot, Unknown: m.Unknown, ToWorking: m.ToWorking, ToDraft: -1, PerHour: sum.DryPerHour,
		Used: m.Used, Mineral: m.Mineral, In: m.In, Burnt: m.Burnt, HeatLow: m.HeatLow, HeatHigh: m.HeatHigh, EffLow: m.EffLow, EffHigh: m.EffHigh, ByReplay: m.ByReplay,
		Smoke: sum.Smoke, SmokePerKg: m.SmokePerKg, Deposits: sum.Sections, Coals: m.Coals, Smoulder: sum.Smoulder, Outdoor: b.Outdoor, Way: WayOf(b)}
	if m.ByGas != nil {
		r.ByGas = *m.ByGas
	}
	steady := time.Duration(0)
	r.Phases, r.OnDead, r.Unburnt = phasesOf(m.Replay.Samples), onDead(b, m.Replay.Samples), m.Unburnt
	r.Dangers = dangersOf(b, m.Unburnt)
	for i, s := range m.Replay.Samples {
		if s.Draft >= steadyDraft && !s.Spilling && s.Phase != fire.Preparing {
			if steady += time.Minute; steady >= steadyFor && r.ToDraft < 0 {
				r.ToDraft = max(0, s.At-steadyFor)
			}
		} else {
			steady = 0
		}
		if i > 0 {
			r.KelvinHours += math.Max(0, float64(s.Room-s.Outdoor)) / 60
		}
	}
	gauge := m.Curve(b)
	r.drawn(gauge)
	r.recovered(b, m, gauge)
	r.held(b, m)
	return r
}

// drawn keeps the gauge as a small strip, and its peak.
func (r *Review) drawn(gauge burn.Curve) {
	known := false
	for i := range ThumbPoints {
		t, ok := gauge(time.Duration(i) * r.Length / (ThumbPoints - 1))
		if !ok {
			t = math.MinInt16
		}
		known = known || ok
		r.Thumb = append(r.Thumb, int16(math.Round(float64(t))))
	}
	if !known {
		r.Thumb = nil
	}
	// The peak is looked for minute by minute: a small strip would step over it.
	for at := time.Duration(0); at <= r.Length; at += time.Minute {
		if t, ok := gauge(at); ok {
			r.Peak = max(r.Peak, t)
		}
	}
}

// recovered times the gauge's way back to its band after each load on coals.
func (r *Review) recovered(b burn.Burn, m burn.Measures, gauge burn.Curve) {
	for e := range b.NotReadings() {
		if e.Kind != burn.Load || e.Load == nil || e.Load.Kindling || e.Load.Lay != fire.OnCoals {
			continue
		}
		rec := Recovery{e.At.Sub(b.Started), -1}
		// Opening the door lets the gauge fall out of its band; one that stays in it for half an
		// hour never left it.
		fell := false
		for at := rec.At; at <= min(r.Length, rec.At+2*time.Hour); at += time.Minute {
			t, ok := gauge(at)
			if !ok {
				continue
			}
			if t < m.Gauge.Band.Low {
				fell = true
			} else if fell {
				rec.Took = at - rec.At
				break
			} else if at-rec.At > 30*time.Minute {
				rec.Took = 0 // it never left it
				break
			}
		}
		r.Recoveries = append(r.Recoveries, rec)
	}
}

// held adds up how long the room was as warm as wanted.
func (r *Review) held(b burn.Burn, m burn.Measures) {
	room, _ := m.RoomCurve(b)
	if b.Wanted[0] >= b.Wanted[1] {
		return
	}
	for at := time.Duration(0); at < r.Length; at += time.Minute {
		if t, ok := room(at); ok && float64(t) >= b.Wanted[0] {
			r.Held += time.Minute
		}
	}
}

// byHouse tells the heat from what the room did. The room's nodes are linear in the
// heat: with so many times the replay's heat they are R₀ + s·R₁, where R₀ is the room
// without a fire; s is the least-squares fit to what was read, at the middle of the
// space's heat loss and at both ends of eight in ten of it.
func byHouse(b burn.Burn, m burn.Measures, known interface {
	Spread(string) (float64, float64, bool)
}) ByHouse {
	readings := b.Readings(stove.RoomAir)
	if len(readings) < leastRoom || len(m.Replay.Samples) < 60 || readings[len(readings)-1].At.Sub(readings[0].At) < time.Hour {
		return ByHouse{}
	}
	mean, spread, _ := known.Spread("room loss")
	heat := func(z float64) units.Joule {
		walls := b.House.Walls().Times(math.Exp(mean + z*spread))
		cold, warm := house.Settled(readings[0].Reading), house.Settled(readings[0].Reading)
		num, den, total := 0.0, 0.0, 0.0
		next := 0
		for _, s := range m.Replay.Samples {
			for range 2 {
				cold, _ = walls.Step(cold, 0, s.Outdoor, 30)
				warm, _ = walls.Step(warm, float64(s.ToRoom), s.Outdoor, 30)
			}
			total += float64(s.ToRoom) * 60
			for next < len(readings) && !readings[next].At.After(b.Started.Add(s.At)) {
				by := float64(warm.Air - cold.Air)
				num += by * float64(readings[next].Reading-cold.Air)
				den += by * by
				next++
			}
		}
		if den < 1 {
			return 0
		}
		return units.Joule(math.Max(0, num/den) * total)
	}
	// What is not known besides the walls: furniture that takes heat, doors to other rooms,
	// sun and people; a room is no calorimeter. As a factor either way.
	const tenth, besides = 1.2816, 1.35
	out := ByHouse{Low: heat(-tenth), Middle: heat(0), High: heat(tenth), Readings: len(readings)}
	out.Low, out.High = min(out.Low, out.Middle, out.High)/besides, max(out.Low, out.Middle, out.High)*besides
	if out.Middle <= 0 {
		return ByHouse{}
	}
	return out
}

// WoodPerKelvinHour is the wood that kept the room a degree over outdoors for an hour, kg.
func (r Review) WoodPerKelvinHour() (units.Kilogram, bool) {
	if r.KelvinHours < 1 || r.Used <= 0 {
		return 0, false
	}
	return r.Used / units.Kilogram(r.KelvinHours), true
}

// Settled is the sum of what settled in the flue, g.
func (r Review) Settled() float64 {
	sum := 0.0
	for _, g := range r.Deposits {
		sum += g
	}
	return sum
}
