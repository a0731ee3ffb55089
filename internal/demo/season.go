package demo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
)

// seasonStart is the first day of the demo's heating season.
var seasonStart = time.Date(2025, time.October, 6, 0, 0, 0, 0, time.UTC)

const (
	seasonDays = 182
	seed       = 20251006
)

// A mistake is what a hand does wrong on a given evening.
type mistake int

const (
	none mistake = iota
	doorTooEarly
	downTooEarly
	forgotten // left wide open
	wetWood
)

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
}

// outdoors is the mean temperature of a day of the season on the island: mild
// by the sea, with spells that last some days.
func outdoors(day int, r *rand.Rand) units.Celsius {
	year := 6.5 - 5*math.Cos(2*math.Pi*float64(day-110)/365)
	spell := 3 * math.Sin(float64(day)/4.3)
	return units.Celsius(math.Round((year+spell+r.NormFloat64()*1.5)*2) / 2)
}

// evenings lists the burns of the season.
func evenings(stoves []store.Stove, stacks []store.Stack, r *rand.Rand) []evening {
	var out []evening
	for day := 0; day < seasonDays; day += 2 + r.IntN(3) {
		t := outdoors(day, r)
		date := seasonStart.AddDate(0, 0, day)
		e := evening{stove: stoves[0], wood: stacks[0], kind: stacks[5], outdoor: t, lay: fire.TopDown,
			start: date.Add(17*time.Hour + time.Duration(r.IntN(150))*time.Minute),
			room:  units.Celsius(math.Round((16.2+0.12*float64(t)+r.Float64())*10) / 10), first: 3 + r.IntN(2), pieces: 3 + r.IntN(2),
			final: []float64{1. / 6, 1. / 4, 1. / 4, 1. / 3}[r.IntN(4)]}
		switch roll := r.IntN(20); {
		case roll < 5:
			e.stove, e.wood = stoves[1], stacks[1]
			e.final = 1.25 / 4
		case roll < 7:
			e.stove, e.wood, e.start = stoves[2], stacks[2], date.Add(8*time.Hour)
			e.final, e.room = 3./12, e.room-5
		case roll < 9:
			e.stove, e.wood, e.start = stoves[3], stacks[4], date.Add(6*time.Hour+20*time.Minute)
			e.final, e.room, e.first = 0.5, e.room-6, 2
		case roll < 12:
			e.wood, e.night, e.final = stacks[1], true, 1./6
		case roll == 12:
			e.lay = fire.BottomUp
		}
		switch r.IntN(11) {
		case 0:
			e.wrong = doorTooEarly
		case 1:
			e.wrong = downTooEarly
		case 2:
			e.wrong = forgotten
		case 3:
			if e.stove.ID == stoves[0].ID {
				e.wrong, e.wood = wetWood, stacks[3]
			}
		}
		e.first = min(e.first, max(1, int(float64(e.stove.MaxLoad)*0.65/float64(e.wood.PieceMass))))
		e.pieces = min(e.pieces, int(float64(e.stove.MaxLoad)/float64(e.wood.PieceMass)))
		out = append(out, e)
	}
	return out
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

// burn burns the evening and writes down what the owner would have.
func (e evening) burn(r *rand.Rand) burn.Burn {
	b := burn.Burn{Stove: e.stove.Stove, House: e.stove.Space.House, Outdoor: e.outdoor, Room: e.room,
		Wanted: [2]float64{float64(e.stove.Space.Wanted[0]), float64(e.stove.Space.Wanted[1])}, Started: e.start}
	steps := e.steps()
	run := fire.Run(b.Setup(), steps, fire.Options{Until: 10 * time.Hour, Step: 4 * time.Second})
	n := 0
	add := func(at time.Duration, entry burn.Entry) {
		n++
		entry.ID = fmt.Sprintf("demo-%s-%03d", e.start.Format("0102"), n)
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
			add(at, burn.Entry{Kind: burn.Control, Control: a.Control, Opening: a.Opening, Typed: say.Mark(c.Scale, a.Opening)})
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

// colour is what somebody outside would see at the cap.
func colour(s fire.Sample) string {
	switch {
	case s.Smoke > 8e-6:
		return burn.SmokeGrey
	case s.Smoke > 3e-6:
		return burn.SmokeWhite
	}
	return burn.SmokeClear
}
