package fire

import (
	"math"
	"time"

	"smolder/internal/core/flue"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Summary is a run in figures.
type Summary struct {
	ToCoals     time.Duration // since the last load, until a twentieth of it is left as wood; negative: not reached
	ToWorking   time.Duration // since the start until the guiding gauge works; negative: never
	Smoulder    time.Duration
	Working     time.Duration
	TooHot      time.Duration
	Spilling    time.Duration  // smoke comes into the room
	Starved     time.Duration  // coals with too little air
	Efficiency  units.Fraction // net, at the flue collar
	ByGas       units.Fraction // the same by the flue-gas method from the run's mean gas
	Gas         flue.Sample    // that gas
	SmokePerKg  float64        // g per kg of dry wood burnt
	Smoke       float64        // g
	SmokeEarly  float64        // g in the first 20 minutes
	Deposits    float64        // g
	Sections    []float64      // g, from the collar up; the last is the horizontal run
	PeakTop     units.Celsius
	PeakGas     units.Celsius
	MinDraft    units.Pascal
	Coals       units.Kilogram // at the end
	In, ToRoom  units.Joule
	Wood        units.Kilogram // dry, not burnt at the end
	Mineral     units.Kilogram // put on and not simulated
	BalanceErr  units.Fraction // what the energy balance misses
	MassErr     units.Fraction // what the mass balance misses
	Spilled     bool
	SpilledCold bool // in the first half hour
	Glass       float64
	DryPerHour  float64 // kg/h while flaming
	MovesMissed int
}

// guide is the gauge a stove is judged by in a run, with its band, and the
// limits of all of them.
type guide struct {
	index  int
	band   stove.Band
	limits [numGauges]float64 // °C; 0 is none
}

// guideBand takes the stove's own gauges and bands; without any the flue gas is
// judged as a connector probe would read it.
func guideBand(s stove.Stove) guide {
	out := guide{index: gProbe, band: stove.ConnectorProbe.DefaultBand()}
	if g, ok := s.Guide(); ok {
		out.index, out.band = placeIndex[g.Place], g.Band
	}
	out.limits[gTop], out.limits[gProbe] = float64(stove.Top.DefaultBand().TooHot), float64(stove.ConnectorProbe.DefaultBand().TooHot)
	for _, g := range s.Gauges {
		if i, ok := placeIndex[g.Place]; ok && g.Band.TooHot > 0 {
			out.limits[i] = float64(g.Band.TooHot)
		}
	}
	return out
}

// measure adds up what a run comes to.
type measure struct {
	band                                  guide
	start                                 float64 // J stored
	coalsBefore                           float64 // kg
	lastLoad, coaled, working             float64 // s; negative: not yet
	left                                  float64 // kg dry that counts as burnt down
	smoulder, work, hot, flaming, starved float64 // s
	spilling                              float64 // s
	early                                 float64 // kg
	minDraft, peakTop, peakGas            float64
	spilled, spilledCold                  bool
}

// newMeasure begins the account with what is stored and glows already.
func newMeasure(s *Fire) measure {
	return measure{band: guideBand(s.setup.Stove), start: s.stored(), coalsBefore: s.coals, lastLoad: -1, coaled: -1, working: -1, minDraft: math.Inf(1)}
}

// loaded begins to count anew how long a load takes to coals.
func (m *measure) loaded(now float64) { m.lastLoad, m.coaled, m.left = now, -1, -1 }

// What counts as what in a summary.
const (
	starvedBed   = 0.1    // of a full bed, under which too few coals are left to starve
	starvedGas   = 0.16   // share of the char's carbon that leaves as carbon monoxide when coals starve
	leastFlaming = 2e-5   // kg/s of gas in flame, under which nobody would say that it burns
	earlySeconds = 1200.0 // of smoke that is the lighting's
	coldSeconds  = 1800.0 // in which smoke into the room is a cold chimney's
	burntDown    = 0.055  // share of a load's dry wood that is left when it counts as gone to coals
)

// step takes the step just made into account.
func (m *measure) step(s *Fire, lit bool) {
	// Too hot goes before working: a stove over its limit is not at work.
	guiding := s.gauge[m.band.index]
	hot := s.tooHot(m.band)
	if s.smoulders() {
		m.smoulder += s.dt
	}
	switch {
	case hot:
		m.hot += s.dt
	case guiding >= float64(m.band.band.Low):
		m.work += s.dt
	}
	if m.working < 0 && guiding >= float64(m.band.band.Low) {
		m.working = s.now
	}
	if s.out.flaming > leastFlaming {
		m.flaming += s.dt
	}
	if s.coalsStarve() {
		m.starved += s.dt
	}
	if s.now <= earlySeconds {
		m.early += s.gas.smoke * s.dt
	}
	// Before the match there is no draft worth judging.
	if lit {
		m.minDraft = min(m.minDraft, s.air.draft)
	}
	if s.air.spilling && s.burning() {
		m.spilled = true
		m.spilling += s.dt
		m.spilledCold = m.spilledCold || s.now < coldSeconds
	}
	m.peakTop, m.peakGas = max(m.peakTop, s.gauge[gTop]), max(m.peakGas, s.gauge[gProbe])
	if m.lastLoad >= 0 && m.coaled < 0 {
		left := s.woodLeft()
		// How much is left counts from the first step after the load, when all of it is in.
		if m.left < 0 {
			m.left = burntDown * left
		}
		if left <= m.left {
			m.coaled = s.now - m.lastLoad
		}
	}
}

// coalsStarve tells whether coals glow with too little air.
func (s *Fire) coalsStarve() bool {
	return s.coals > starvedBed*s.p.coalBed && s.gas.starved > starvedGas
}

// passed tells whether a limit is behind.
func (m *measure) passed(l Limits) bool {
	return l.TooHot > 0 && m.hot > l.TooHot.Seconds() || l.Smoulder > 0 && m.smoulder > l.Smoulder.Seconds()
}

// summary closes the account.
func (m *measure) summary(s *Fire) Summary {
	t := &s.total
	// What the stove holds more than at the start has come in and not gone out yet.
	t.Stored = s.stored() - m.start
	dry := t.Gas / (1 - charShare)
	sum := Summary{
		ToCoals: seconds(m.coaled), ToWorking: seconds(m.working), Smoulder: seconds(m.smoulder), Working: seconds(m.work),
		TooHot: seconds(m.hot), Spilling: seconds(m.spilling),
		Starved: seconds(m.starved), Smoke: t.Smoke * 1000, SmokeEarly: m.early * 1000, Deposits: s.deposits() * 1000,
		PeakTop: units.Celsius(m.peakTop), PeakGas: units.Celsius(m.peakGas), MinDraft: units.Pascal(m.minDraft),
		Coals: units.Kilogram(s.coals), In: units.Joule(t.In), ToRoom: units.Joule(t.Room + t.Connector), Wood: units.Kilogram(s.woodLeft()),
		Mineral: units.Kilogram(s.mineral), Spilled: m.spilled, SpilledCold: m.spilledCold, Glass: s.glass,
	}
	for _, d := range s.flue.settled {
		sum.Sections = append(sum.Sections, d*1000)
	}
	if math.IsInf(m.minDraft, 1) {
		sum.MinDraft = 0
	}
	// The efficiency is found by what is lost, as tests do: what the stove still stores
	// will reach the room.
	if t.In > 0 {
		sum.Efficiency = units.Fraction(1 - (t.Flue+t.Unburnt)/t.In)
		sum.BalanceErr = units.Fraction((t.In - t.Room - t.Flue - t.Unburnt - t.Stored) / t.In)
	}
	if t.Fuel+m.coalsBefore > 0 {
		sum.MassErr = units.Fraction((t.Fuel + m.coalsBefore - t.Gas - t.Char - t.Water - s.woodLeft() - s.waterLeft() - s.charLeft() - s.coals) / (t.Fuel + m.coalsBefore))
	}
	// A gram of smoke for each kilogram of dry wood is how tests of stoves put it.
	if dry > 0 {
		sum.SmokePerKg = sum.Smoke / dry
		sum.Gas, sum.ByGas = m.analysis(s)
	}
	if m.flaming > 0 {
		sum.DryPerHour = dry / m.flaming * 3600
	}
	return sum
}

// analysis feeds the flue-gas method with the gas of the whole run, as an
// analyser that adds it up would, and with what of the wood has burnt: early on
// that is more gas than char.
func (m *measure) analysis(s *Fire) (flue.Sample, units.Fraction) {
	t := &s.total
	gas := t.Gas + t.Starter/starterEnergy
	burnt := gas + t.Char
	sample := flue.Sample{Room: s.setup.Room, Gas: s.setup.Room, Moisture: units.Fraction(t.Water / burnt), Fuel: flue.Fuel{
		Carbon: (gas*gasCarbon + t.Char*charCarbon) * molC / burnt, Hydrogen: gas * gasHydrogenVap * 2 * molH / burnt,
		Net: (t.In + t.Water*latentHeat) / burnt / 1e6}}
	// What is neither carbon nor hydrogen is the oxygen that leaves this need.
	need := (gas*gasOxygen + t.Char*charOxygen) / burnt
	sample.Fuel.Oxygen = 2 * molO * (sample.Fuel.Carbon/molC + sample.Fuel.Hydrogen/molH/4 - need)
	sample.CO2, sample.CO, sample.O2, sample.CH4 = t.Moles.Shares()
	sample.Tar = t.Moles.TarShare()
	if t.Moles.Tar > 0 {
		sample.TarHeat = t.TarHeat / t.Moles.Tar / 1e6
	}
	if t.GasHeat > 0 {
		sample.Gas += units.Celsius(t.Flue / t.GasHeat)
	}
	loss, err := flue.LossOf(sample)
	if err != nil {
		return sample, 0
	}
	return sample, loss.Net
}

// waterLeft is the water still in the wood, kg.
func (s *Fire) waterLeft() float64 {
	sum := 0.0
	for i := range s.batches {
		sum += s.batches[i].water
	}
	return sum
}

// charLeft is the char on wood that has not fallen into the bed yet, kg.
func (s *Fire) charLeft() float64 {
	sum := 0.0
	for i := range s.batches {
		sum += s.batches[i].char
	}
	return sum
}

// seconds turns a time in the account into a duration; negative: not reached.
func seconds(s float64) time.Duration {
	if s < 0 {
		return -1
	}
	return time.Duration(s * float64(time.Second))
}
