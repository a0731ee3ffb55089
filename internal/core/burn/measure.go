package burn

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Measures are what a burn came to. Times in a band come from the owner's own
// readings where there are enough of them, else from the replay; Source says
// which.
type Measures struct {
	Source    Source
	Gauge     stove.Gauge
	NoGauge   bool          // the stove has none: Gauge is computed, at the connector
	Cold      time.Duration // below the working band
	Working   time.Duration
	TooHot    time.Duration
	Unknown   time.Duration // no reading near enough
	ToWorking time.Duration // since the start; negative: never

	Simulated bool           // false: mineral fuel was burnt, and nothing below comes from the simulator
	Mineral   units.Kilogram // put on

	Used     units.Kilogram
	In       units.Joule    // net energy of the wood put on, kindling too
	Burnt    units.Joule    // In and the coals of before, less Unburnt and Coals
	Unburnt  units.Kilogram // wood that is left, oven-dry
	HeatLow  units.Joule    // to the room
	HeatHigh units.Joule
	EffLow   units.Fraction // net
	EffHigh  units.Fraction
	ByGas    *units.Fraction // efficiency by the flue-gas loss, if a gas temperature was read
	ByReplay units.Fraction  // efficiency by the simulator's balance

	SmokePerKg float64 // g per kg dry, replayed
	Deposits   float64 // g, replayed
	Coals      units.Kilogram
	Length     time.Duration
	Replay     fire.Result
}

// A Source is where times in a band come from.
type Source string

// The sources.
const (
	FromReadings Source = "readings"
	FromReplay   Source = "replay"
)

const (
	// longestGap is how far apart two readings may lie to be joined by a line.
	// A fire can go through a whole flare in less; between such readings nobody knows.
	longestGap = 45 * time.Minute
	// afterLast is how long the last reading is taken to hold.
	afterLast = 10 * time.Minute
	// efficiencyDoubt is added to either side of the efficiency: neither the
	// simulator's stove nor one gauge knows the burn better than this.
	efficiencyDoubt = 0.04
)

// Measure computes what the burn came to until the given time.
func Measure(b Burn, until time.Time) Measures { return (*Replays)(nil).Measure(b, until) }

// Measure is the function of that name, replayed from a kept moment.
func (r *Replays) Measure(b Burn, until time.Time) Measures {
	if !b.Ended.IsZero() && b.Ended.Before(until) {
		until = b.Ended
	}
	var replay fire.Result
	if b.Simulated() {
		replay = r.Replay(b, until)
	}
	return MeasureBy(b, until, replay)
}

// MeasureBy measures a burn of which somebody knows better than by a replay in the usual
// stove how it was, minute by minute.
func MeasureBy(b Burn, until time.Time, replay fire.Result) Measures {
	m := Measures{Used: b.Used(), Mineral: b.UsedMineral(), Simulated: b.Simulated(), Length: max(0, until.Sub(b.Started)), ToWorking: -1, Replay: replay}
	// What was put on counts with its net energy, as the owner pays for it and as the
	// efficiency is meant.
	for e := range b.All() {
		if e.Kind == Load && e.Load != nil {
			m.In += e.Load.Energy()
		}
	}
	m.bandTimes(b, until)
	if !m.Simulated {
		return m
	}
	m.heat(b)
	sum := m.Replay.Summary
	m.SmokePerKg, m.Deposits, m.Coals = sum.SmokePerKg, sum.Deposits, sum.Coals
	return m
}

// bandTimes sorts the burn's time by the band of the guiding gauge; it is too hot
// when any gauge that has a limit is over it.
func (m *Measures) bandTimes(b Burn, until time.Time) {
	gauge, ok := b.Stove.Guide()
	m.NoGauge = !ok
	if !ok {
		gauge = stove.NewGauge(stove.ConnectorProbe)
	}
	m.Gauge, m.ToWorking = gauge, -1
	m.Source = FromReadings
	if b.ReadingsAt(gauge.Place) < enoughReadings && m.Simulated {
		m.Source = FromReplay
	}
	guide := m.Curve(b)
	limits := b.limits()
	// Minute by minute: the finest that anybody reads a gauge.
	for at := time.Duration(0); at < m.Length; at += time.Minute {
		t, known := guide(at)
		hot := known && t >= gauge.Band.TooHot
		for _, l := range limits {
			v, read := l.curve(at)
			hot = hot || read && v >= l.tooHot
		}
		switch {
		case hot:
			m.TooHot += time.Minute
		case !known:
			m.Unknown += time.Minute
		case t < gauge.Band.Low:
			m.Cold += time.Minute
		default:
			m.Working += time.Minute
		}
		if known && t >= gauge.Band.Low && m.ToWorking < 0 {
			m.ToWorking = at
		}
	}
}

// Curve is the gauge by which a burn was judged. The owner's own readings go before the
// simulator, where there are at least three: two points make a line through anything.
func (m Measures) Curve(b Burn) Curve {
	if m.Source == FromReplay {
		return replayCurve(m.Replay, m.Gauge.Place)
	}
	return readingsCurve(b, m.Gauge.Place)
}

// RoomCurve is the room's temperature, as it was read or, where it was too seldom, as the
// replay has it; read tells which.
func (m Measures) RoomCurve(b Burn) (room Curve, read bool) {
	if b.ReadingsAt(stove.RoomAir) >= enoughReadings || !m.Simulated {
		return readingsCurve(b, stove.RoomAir), true
	}
	return replayCurve(m.Replay, stove.RoomAir), false
}

// enoughReadings is how many readings of a gauge make a curve of their own.
const enoughReadings = 3

// A limit is a gauge's readings and what they may not reach.
type limit struct {
	curve  Curve
	tooHot units.Celsius
}

// limits are those of every gauge of the stove that was read.
func (b Burn) limits() []limit {
	var out []limit
	for _, g := range b.Stove.Gauges {
		if g.Place.OfFire() && g.Band.TooHot > 0 && b.ReadingsAt(g.Place) > 0 {
			out = append(out, limit{readingsCurve(b, g.Place), g.Band.TooHot})
		}
	}
	return out
}

// A Curve gives a temperature at a time since the start, if it is known.
type Curve func(time.Duration) (units.Celsius, bool)

// readingsCurve joins readings by straight lines where they lie close enough.
func readingsCurve(b Burn, p stove.Place) Curve {
	readings := b.Readings(p)
	return func(since time.Duration) (units.Celsius, bool) {
		at := b.Started.Add(since)
		// The first reading after the moment; the one before it is its neighbour.
		i, _ := slices.BinarySearchFunc(readings, at, func(e Reading, t time.Time) int {
			if e.At.After(t) {
				return 1
			}
			return -1
		})
		switch n := len(readings); {
		case i == 0:
			return 0, false
		case i == n:
			return readings[n-1].Reading, at.Sub(readings[n-1].At) <= afterLast
		}
		before, r := readings[i-1], readings[i]
		gap := r.At.Sub(before.At)
		if gap > longestGap {
			return 0, false
		}
		share := at.Sub(before.At).Seconds() / gap.Seconds()
		return before.Reading + (r.Reading-before.Reading)*units.Celsius(share), true
	}
}

// replayCurve is what a gauge would have shown in the replay, minute by minute.
func replayCurve(r fire.Result, p stove.Place) Curve {
	return func(since time.Duration) (units.Celsius, bool) {
		i := int(since / time.Minute)
		if i < 0 || i >= len(r.Samples) {
			return 0, false
		}
		return r.Samples[i].Reading(p)
	}
}

// heat estimates the heat to the room two ways and gives the range of both:
// the simulator's own balance over the log, and, where the owner read the gas
// or the pipe, the loss that the read temperature implies at the simulated
// excess air.
func (m *Measures) heat(b Burn) {
	sum := m.Replay.Summary
	m.ByReplay = units.Fraction(clamp(float64(sum.Efficiency), 0, 0.95))
	low, high := float64(m.ByReplay), float64(m.ByReplay)
	if eff, ok := m.byGas(b); ok {
		m.ByGas = &eff
		low, high = math.Min(low, float64(eff)), math.Max(high, float64(eff))
	}
	m.EffLow = units.Fraction(clamp(low-efficiencyDoubt, 0, 0.95))
	m.EffHigh = units.Fraction(clamp(high+efficiencyDoubt, 0, 0.95))
	// Only what has burnt has given heat: wood put on, kindling too, and the coals of before,
	// less the wood and the coals that are left. Heat is that times the efficiency, at both
	// ends, so that the figures add up.
	m.Unburnt = sum.Wood
	if assumed := b.assumedKindling(); assumed != nil {
		m.In += assumed.Energy()
	}
	burnt := float64(m.In+CharEnergy(b.Coals)-CharEnergy(sum.Coals)) - float64(b.UnburntEnergy(sum.Wood))
	m.Burnt = units.Joule(math.Max(0, burnt))
	m.HeatLow, m.HeatHigh = m.Burnt*units.Joule(m.EffLow), m.Burnt*units.Joule(m.EffHigh)
}

// charEnergy is what coals give, J/kg (29 to 33 MJ/kg).
const charEnergy = 31e6

// CharEnergy is what so many coals give when they burn out.
func CharEnergy(coals units.Kilogram) units.Joule { return units.Joule(charEnergy * float64(coals)) }

// UnburntEnergy is the net energy of what is left of the burn's wood, given in kg dry.
func (b Burn) UnburntEnergy(left units.Kilogram) units.Joule {
	return units.Joule(float64(left) * b.dryEnergy())
}

// dryEnergy is the net energy of a kilogram of the burn's wood, oven-dry, J.
func (b Burn) dryEnergy() float64 {
	mass, energy := 0.0, 0.0
	for e := range b.All() {
		if e.Kind == Load && e.Load != nil {
			mass += e.Load.Dry()
			energy += float64(e.Load.Energy())
		}
	}
	if mass == 0 {
		return 18e6
	}
	return energy / mass
}

// assumedKindling is the kindling that is taken for a fire of which only "lit" is logged;
// nil: none is.
func (b Burn) assumedKindling() *fire.Load {
	for e := range b.NotReadings() {
		for _, a := range b.acts(e) {
			if a.Kind == fire.ActLoad && a.Load != e.Load {
				return a.Load
			}
		}
	}
	return nil
}

// byGas computes the mean efficiency from the gas temperatures that were read,
// each minute weighted by the gas the replay burns in it.
func (m *Measures) byGas(b Burn) (units.Fraction, bool) {
	// A probe reads the gas itself; a thermometer on the pipe reads less, by a formula that
	// holds for single-wall pipe.
	place, convert := stove.ConnectorProbe, func(t units.Celsius) units.Celsius { return t }
	if b.ReadingsAt(place) < 3 {
		place = stove.ConnectorSurface
		convert = func(t units.Celsius) units.Celsius { return flue.GasFromSurface(t, b.Room) }
	}
	if b.ReadingsAt(place) < 3 {
		return 0, false
	}
	read := readingsCurve(b, place)
	moisture := b.meanMoisture()
	weight, sum := 0.0, 0.0
	for _, s := range m.Replay.Samples {
		t, known := read(s.At)
		// Minutes without gas to speak of, or with too little air for the method, tell nothing
		// about the loss by warm gas.
		if !known || s.Gas < 2e-5 || s.Lambda < 0.8 {
			continue
		}
		gas := convert(t)
		loss, err := flue.LossOf(flue.Sample{Gas: gas, Room: b.Room, CO2: carbonDioxide(s.Lambda), Moisture: moisture})
		if err != nil {
			continue
		}
		// Eight tenths of what does not burn leave as energy; the rest has cost none to make.
		weight += s.Gas
		sum += s.Gas * (float64(loss.Net) - (1-s.Burnout)*0.8)
	}
	if weight == 0 {
		return 0, false
	}
	return units.Fraction(clamp(sum/weight, 0, 0.95)), true
}

// carbonDioxide returns the CO2 of dry gas at an air factor: wood makes about
// 20.4 % with just enough air.
func carbonDioxide(lambda float64) units.Fraction {
	return units.Fraction(0.204 / clamp(lambda, 1, 12))
}

// meanMoisture is that of the wood put on, by mass; 18 % when none was.
func (b Burn) meanMoisture() units.Fraction {
	var mass, water float64
	for e := range b.All() {
		if e.Kind == Load && e.Load != nil {
			mass += float64(e.Load.Mass())
			water += float64(e.Load.Mass()) * float64(e.Load.Moisture)
		}
	}
	if mass == 0 {
		return 0.18
	}
	return units.Fraction(water / mass)
}

func clamp(x, low, high float64) float64 { return math.Max(low, math.Min(high, x)) }
