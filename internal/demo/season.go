package demo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/probe"
	"smolder/internal/say"
	"smolder/internal/store"
)

const (
	seasonDays = 182 // the season's last day is the one before it is loaded
	seed       = 20251006
)

// begins is the first day of a season that is loaded at a moment.
func begins(today time.Time) time.Time {
	return today.UTC().Truncate(24*time.Hour).AddDate(0, 0, -seasonDays)
}

// A mistake is what a hand does wrong on a given evening.
type mistake int

const (
	none mistake = iota
	doorTooEarly
	downTooEarly
	forgotten // left wide open
	wetWood
)

// Hidden is how each of the household's stoves differs from what its people say of it;
// nothing in the household knows it. The first is that of its thermometers, see
// [smolder/internal/probe].
func Hidden() []fire.Tuning {
	out := make([]fire.Tuning, 4)
	for i, seed := range []uint64{ThermometerSeed, 21, 34, 4} {
		out[i] = probe.Hidden(seed)
	}
	return out
}

// ThermometerSeed draws the stove that the simulated thermometers report of.
const ThermometerSeed = 7

// An evening is one burn to be made.
type evening struct {
	stove   store.Stove
	wood    store.Stack
	kind    store.Stack // kindling
	start   time.Time
	outdoor units.Celsius
	room    units.Celsius
	pieces  int // of the load on coals
	first   int // of the first fire
	final   float64
	lay     fire.Lay
	wrong   mistake
	night   bool
	unread  bool // nobody looked at a gauge
	hidden  fire.Tuning
}

// outdoors is the mean temperature of a day of the season on the island: mild
// by the sea, in summer too cool to do without a fire, with spells that last some days.
func outdoors(date time.Time, day int, r *rand.Rand) units.Celsius {
	const coldest = 28 // of January
	year := 6.5 - 5*math.Cos(2*math.Pi*float64(date.YearDay()-coldest)/365)
	spell := 3 * math.Sin(float64(day)/4.3)
	return units.Celsius(math.Round((year+spell+r.NormFloat64()*1.5)*2) / 2)
}

// A habit is when a stove of the household is lit: on how many days of a hundred, at
// what time, with which stack, and what is done in it as long as nothing goes wrong.
type habit struct {
	days  int
	from  time.Duration // of the day
	over  int           // minutes, within which it is lit
	stack int
	night bool
	cold  units.Celsius // that its space is colder than the kitchen
	final []float64     // where its air is left, one of these
}

// habits are those of the four stoves, the kitchen's nights besides; two of one stove
// are never of the same day.
var habits = []struct {
	stove int
	habit
}{
	{fixture.Auntie, habit{days: 36, from: 17 * time.Hour, over: 150, stack: fixture.Beech, final: []float64{1. / 6, 1. / 4, 1. / 4, 1. / 3}}},
	{fixture.Auntie, habit{days: 13, from: 19 * time.Hour, over: 60, stack: fixture.Oak, night: true, final: []float64{1. / 6}}},
	{fixture.Loom, habit{days: 15, from: 9 * time.Hour, over: 300, stack: fixture.Oak, final: []float64{1.25 / 4, 1.5 / 4}}},
	{fixture.Clinker, habit{days: 9, from: 8 * time.Hour, over: 60, stack: fixture.Spruce, cold: 5, final: []float64{3. / 12}}},
	{fixture.Pip, habit{days: 9, from: 6*time.Hour + 20*time.Minute, over: 40, stack: fixture.CabinCuts, cold: 6, final: []float64{0.5}}},
}

// evenings lists the burns of the season that ends the day before it is loaded, in the
// order of time. Their people learn: early on every second burn has something wrong and
// most fires are lit from below, in the end one in eight and few.
func evenings(today time.Time, stoves []store.Stove, stacks []store.Stack, r *rand.Rand) []evening {
	var out []evening
	hidden := Hidden()
	for day := range seasonDays {
		date, late := begins(today).AddDate(0, 0, day), float64(day)/seasonDays
		t := outdoors(date, day, r)
		lit := map[int]bool{}
		for _, h := range habits {
			roll, start := r.IntN(100), date.Add(h.from+time.Duration(r.IntN(h.over))*time.Minute)
			e := evening{stove: stoves[h.stove], wood: stacks[h.stack], kind: stacks[fixture.Offcuts], start: start, outdoor: t, lay: fire.TopDown, night: h.night,
				room:  units.Celsius(math.Round((16.2+0.12*float64(t)+r.Float64())*10)/10) - h.cold,
				first: 3 + r.IntN(2), pieces: 3 + r.IntN(2), final: h.final[r.IntN(len(h.final))], unread: r.IntN(14) == 0, hidden: hidden[h.stove]}
			e.err(late, stacks, r)
			switch {
			case roll >= h.days || lit[h.stove]: // not on this day
				continue
			case day == seasonDays-1 && h.from > 12*time.Hour: // it must be out when it is loaded
				continue
			}
			lit[h.stove] = true
			e.first = min(e.first, max(1, int(float64(e.stove.MaxLoad)*0.65/float64(e.wood.PieceMass))))
			e.pieces = min(e.pieces, int(float64(e.stove.MaxLoad)/float64(e.wood.PieceMass)))
			out = append(out, e)
		}
	}
	slices.SortStableFunc(out, func(a, b evening) int { return a.start.Compare(b.start) })
	return out
}

// err lets something go wrong, the more seldom the later in the season.
func (e *evening) err(late float64, stacks []store.Stack, r *rand.Rand) {
	if lights := r.Float64(); lights < 0.75-0.6*late && e.stove.Family == stove.SecondaryAir {
		e.lay = fire.BottomUp
	}
	wrong, which := r.Float64(), r.IntN(4)
	if wrong > 0.5-0.38*late {
		return
	}
	e.wrong = []mistake{doorTooEarly, downTooEarly, forgotten, wetWood}[which]
	switch {
	case e.wrong == wetWood && e.stove.Family == stove.SecondaryAir:
		e.wood = stacks[fixture.NewAsh]
	case e.wrong == wetWood:
		e.wrong = downTooEarly
	}
}

// brisk is the opening at which wood is charred once the stove draws.
const brisk = 0.6

// steps is what the hands do on that evening.
func (e evening) steps() []fire.Move {
	load := func(s store.Stack, n int, lay fire.Lay) *fire.Load {
		d := stove.EndOn
		if e.night || s.PieceLength > e.stove.LongestPiece(d) {
			d = stove.Sideways
		}
		return &fire.Load{Species: s.Species, Moisture: s.Moisture(), Pieces: n, PieceMass: s.PieceMass, PieceLength: s.PieceLength,
			Direction: d, Lay: lay, StackName: s.Name, StackID: s.ID}
	}
	kindling := load(e.kind, max(4, int(float64(e.stove.Volume)*0.24)), e.lay)
	kindling.Kindling, kindling.StarterKind, kindling.Direction = true, fire.WaxBlock, stove.Sideways
	air, _ := e.stove.MainAir()
	set := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: air.Key, Role: air.Role, Opening: o}
	}
	door := func(d fire.Door) fire.Act { return fire.Act{Kind: fire.ActDoor, Door: d} }
	shut := 9 * time.Minute
	if e.wrong == doorTooEarly {
		shut = 2 * time.Minute
	}
	lit := []fire.Act{set(1), door(fire.Ajar)}
	bypass, hasBypass := e.stove.Bypass()
	if hasBypass {
		lit = append(lit, fire.Act{Kind: fire.ActControl, Control: bypass.Key, Role: bypass.Role, Opening: 1})
	}
	lit = append(lit, fire.Act{Kind: fire.ActLoad, Load: load(e.wood, e.first, e.lay)}, fire.Act{Kind: fire.ActLoad, Load: kindling},
		fire.Act{Kind: fire.ActLight})
	steps := []fire.Move{{Do: lit}, {When: fire.Trigger{After: shut}, Do: []fire.Act{door(fire.Shut)}}}
	small := units.Kilogram(0.45 * float64(e.wood.PieceMass) * float64(e.first))
	// Who knows the stove takes the air back once it draws; who forgets leaves it open.
	if e.wrong != forgotten {
		steps = append(steps, fire.Move{When: fire.Trigger{After: 3 * time.Minute}, Do: []fire.Act{set(brisk)}})
	}
	by := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: bypass.Key, Role: bypass.Role, Opening: o}
	}
	opened := []fire.Act{door(fire.Open)}
	if hasBypass { // shut while the first wood burns, and open again for the door
		steps = append(steps, fire.Move{When: fire.Trigger{After: 2 * time.Minute, Gauge: stove.CatalystProbe, Above: 265, Latest: 20 * time.Minute},
			Do: []fire.Act{by(0)}})
		opened = []fire.Act{by(1), door(fire.Open)}
	}
	steps = append(steps,
		fire.Move{When: fire.Trigger{After: 25 * time.Minute, WoodLeft: small, Latest: 48 * time.Minute}, Do: opened},
		fire.Move{When: fire.Trigger{After: time.Minute}, Do: []fire.Act{{Kind: fire.ActLoad, Load: load(e.wood, e.pieces, fire.OnCoals)}}},
		fire.Move{When: fire.Trigger{After: time.Minute}, Do: []fire.Act{door(fire.Shut)}})
	if hasBypass {
		steps = append(steps, fire.Move{When: fire.Trigger{After: 5 * time.Minute, Gauge: stove.CatalystProbe, Above: 265, Latest: 30 * time.Minute},
			Do: []fire.Act{by(0)}})
	}
	switch e.wrong {
	case forgotten:
		return steps
	case downTooEarly:
		return append(steps, fire.Move{When: fire.Trigger{After: 2 * time.Minute}, Do: []fire.Act{set(e.final * 0.6)}})
	}
	return append(steps,
		fire.Move{When: fire.Trigger{After: 4 * time.Minute, Charred: true}, Do: []fire.Act{set(0.5)}},
		fire.Move{When: fire.Trigger{After: 7 * time.Minute}, Do: []fire.Act{set(e.final)}})
}

// inside are the steps with the wood as it is within: somewhat other than what a meter
// says of a few pieces.
func (e evening) inside(steps []fire.Move, r *rand.Rand) []fire.Move {
	const wetter, spread = 0.01, 0.015 // points of moisture
	off := units.Fraction(wetter + spread*r.NormFloat64())
	out := make([]fire.Move, len(steps))
	for i, s := range steps {
		out[i] = fire.Move{When: s.When, Do: slices.Clone(s.Do)}
		for j, a := range s.Do {
			if a.Load != nil && !a.Load.Kindling {
				load := *a.Load
				load.Moisture = max(0.06, load.Moisture+off)
				out[i].Do[j].Load = &load
			}
		}
	}
	return out
}

// burn burns the evening and writes down what the owner would have.
func (e evening) burn(r *rand.Rand) burn.Burn {
	b := burn.Burn{Stove: e.stove.Stove, House: e.stove.Space.House, Outdoor: e.outdoor, Room: e.room,
		Wanted: [2]float64{float64(e.stove.Space.Wanted[0]), float64(e.stove.Space.Wanted[1])}, Started: e.start}
	steps := e.steps()
	setup := b.Setup()
	setup.Tuning = e.hidden
	run := fire.Run(setup, e.inside(steps, r), fire.Options{Until: 10 * time.Hour, Step: 4 * time.Second})
	n := 0
	add := func(at time.Duration, entry burn.Entry) {
		n++
		entry.ID = fmt.Sprintf("demo-%s-%03d", e.start.Format("060102"), n)
		entry.At = e.start.Add(at)
		b.Entries = append(b.Entries, entry)
	}
	for i, s := range steps {
		if run.Done[i] >= 0 {
			e.write(s, run.Done[i], add)
		}
	}
	watched := e.read(run, r, add)
	if e.wrong == wetWood {
		add(18*time.Minute, burn.Entry{Kind: burn.Note, Note: "Hissing at the ends. This stack is not ready."})
	}
	b.Ended = e.start.Add(watched + 5*time.Minute)
	return b
}

// write turns what was done into entries.
func (e evening) write(s fire.Move, at time.Duration, add func(time.Duration, burn.Entry)) {
	for _, a := range s.Do {
		switch a.Kind {
		case fire.ActLight:
			add(at, burn.Entry{Kind: burn.Light})
		case fire.ActLoad:
			add(at, burn.Entry{Kind: burn.Load, Load: a.Load})
		case fire.ActDoor:
			add(at, burn.Entry{Kind: burn.Door, Door: a.Door})
		case fire.ActControl:
			c, _ := e.stove.Control(a.Control)
			add(at, burn.Entry{Kind: burn.Control, Control: a.Control, Opening: a.Opening, Typed: say.Mark(c.Scale, a.Opening, lang.Metric)})
		}
	}
}

// read writes down the gauges, often at first and then seldom, until the fire
// is left alone or out; it returns how long somebody looked.
func (e evening) read(run fire.Result, r *rand.Rand, add func(time.Duration, burn.Entry)) time.Duration {
	next, last := 4*time.Minute, time.Duration(0)
	acted := slices.Max(run.Done) // nobody writes that it is out and then turns it down
	smoke := ""
	for _, s := range run.Samples {
		if s.At < next {
			continue
		}
		for _, g := range e.stove.Gauges {
			t, _ := s.Reading(g.Place)
			if e.unread && g.Place != stove.RoomAir {
				continue
			}
			if g.Place == stove.RoomAir {
				if r.IntN(3) > 0 {
					continue
				}
				add(s.At, burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: units.Celsius(math.Round((float64(t)+r.NormFloat64()*0.1)*5) / 5)})
				continue
			}
			add(s.At, burn.Entry{Kind: burn.Temperature, Place: g.Place, Reading: units.Celsius(math.Round(float64(t) + r.NormFloat64()*3))})
		}
		last = s.At
		if seen := colour(s); seen != smoke && r.IntN(2) == 0 {
			smoke = seen
			add(s.At, burn.Entry{Kind: burn.Smoke, Smoke: seen})
		}
		gap := time.Duration(5+r.IntN(6)) * time.Minute
		if s.At > 100*time.Minute {
			gap = time.Duration(18+r.IntN(20)) * time.Minute
		}
		next = s.At + gap
		over := s.Phase == fire.Coaling && s.At > 2*time.Hour || s.Phase == fire.Out && s.At > 40*time.Minute
		if over && s.At > acted {
			add(s.At+2*time.Minute, burn.Entry{Kind: burn.Out})
			break
		}
	}
	return last
}

// colour is what somebody outside sees at the cap.
func colour(s fire.Sample) string {
	return map[fire.Colour]string{fire.BlueGrey: burn.SmokeGrey, fire.White: burn.SmokeWhite, fire.Clear: burn.SmokeClear}[s.Colour]
}
