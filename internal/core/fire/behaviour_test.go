package fire_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// mid is a mid-size stove on 6 m of insulated 150 mm liner.
func mid(f stove.Family, volume units.Litre) stove.Stove {
	s := stove.Stove{Name: string(f), Family: f, Volume: volume, MaxLoad: units.Kilogram(0.16 * volume), Controls: []stove.Control{
		{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:  []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)},
		Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}}
	if f == stove.Catalytic {
		s.Controls = append(s.Controls, stove.Control{Key: "bypass", Name: "Bypass", Role: stove.BypassRole,
			Scale: stove.Scale{Kind: stove.Notches, Notches: []string{"shut", "open"}}})
	}
	return s
}

// apart gives a stove separate inlets for its first and second air.
func apart(s stove.Stove) stove.Stove {
	s.Controls = append([]stove.Control{{Key: "primary", Name: "Primary", Role: stove.PrimaryAir, Scale: stove.Scale{Kind: stove.PercentOpen}},
		{Key: "secondary", Name: "Secondary", Role: stove.SecondAir, Scale: stove.Scale{Kind: stove.PercentOpen}}}, s.Controls[1:]...)
	return s
}

// subject is a stove in the table with its usual evening.
type subject struct{ stove.Stove }

// scale is the size against the 55 L that the table speaks of.
func (s subject) scale() float64 { return float64(s.Volume) / 55 }

func (s subject) setup() fire.Setup {
	return fire.Setup{Stove: s.Stove, House: house.Default(), Outdoor: 2, Room: 19, Warmth: 110, Coals: units.Kilogram(0.6 * s.scale())}
}

// air opens the first air; where the second has its own inlet, it stays open.
func (s subject) air(o float64) fire.Act {
	c, _ := s.MainAir()
	return fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: o}
}

func bypass(o float64) fire.Act {
	return fire.Act{Kind: fire.ActControl, Control: "bypass", Role: stove.BypassRole, Opening: o}
}

// wood is a load of beech in a stove, given for 55 L.
func (s subject) load(kilos, u float64, pieces int, d stove.Direction) *fire.Load {
	beech, _ := wood.SpeciesByKey("beech")
	return &fire.Load{Species: beech, Moisture: units.Fraction(u), Pieces: pieces,
		PieceMass: units.Kilogram(kilos * s.scale() / float64(pieces)), PieceLength: 0.33, Direction: d, Lay: fire.OnCoals}
}

// staged loads on coals with all air open, chars, closes the bypass at
// light-off and turns down in three steps.
func (s subject) staged(l *fire.Load, final float64) []fire.Move {
	steps := []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: l}}}}
	if s.Family == stove.Catalytic {
		steps = append(steps, fire.Move{When: fire.Trigger{After: 4 * time.Minute, Gauge: stove.CatalystProbe, Above: 265,
			Latest: 40 * time.Minute}, Do: []fire.Act{bypass(0)}})
	}
	return append(steps,
		fire.Move{When: fire.Trigger{After: 4 * time.Minute, Charred: true}, Do: []fire.Act{s.air(0.5)}},
		fire.Move{When: fire.Trigger{After: 6 * time.Minute}, Do: []fire.Act{s.air((0.5 + final) / 2)}},
		fire.Move{When: fire.Trigger{After: 6 * time.Minute}, Do: []fire.Act{s.air(final)}})
}

func (s subject) burn(steps []fire.Move, hours float64) fire.Summary {
	return fire.Run(s.setup(), steps, fire.Options{Until: time.Duration(hours * float64(time.Hour))}).Summary
}

// lowest is the lowest setting at which a load burns as wanted: what an owner
// finds by trying.
func (s subject) lowest(l *fire.Load, clean func(fire.Summary) bool) float64 {
	for _, o := range []float64{0.10, 0.125, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4} {
		if clean(s.burn(s.staged(l, o), 10)) {
			return o
		}
	}
	return 0.5
}

// clean is a low clean setting for an evening: no smoke beyond the usual, and
// the wood burnt in it.
func clean(m fire.Summary) bool {
	return m.SmokePerKg < 4 && m.Smoulder < 5*time.Minute && m.ToCoals > 0 && m.ToCoals < 5*time.Hour
}

// A figure is one number of a row, with the range it must lie in.
type figure struct {
	what      string
	got       float64
	low, high float64
}

const any = 1e9

// rows is the behaviour table.
var rows = []struct {
	name string
	run  func(s subject, low float64, m fire.Summary) []figure
}{
	{"6 kg, u 18 %, end-on, on coals, staged to a low clean setting", func(s subject, low float64, m fire.Summary) []figure {
		return []figure{{"hours down to 0.3 kg", m.ToCoals.Hours(), 3, 5}, {"efficiency %", m.Efficiency.Percent(), 70, 84},
			{"smoke g/kg", m.SmokePerKg, 1, 4}, {"top °C", float64(m.PeakTop), 200, 320}}
	}},
	{"the same, sideways", func(s subject, low float64, m fire.Summary) []figure {
		o := s.burn(s.staged(s.load(6, 0.18, 4, stove.Sideways), low), 14)
		return []figure{{"times as long", o.ToCoals.Hours() / m.ToCoals.Hours(), 1.25, 2}, {"peak lower by K", float64(m.PeakTop - o.PeakTop), 1, any}}
	}},
	{"the same, air left wide open", func(s subject, low float64, m fire.Summary) []figure {
		o := s.burn(s.staged(s.load(6, 0.18, 4, stove.EndOn), 1)[:1], 8)
		return []figure{{"hours", o.ToCoals.Hours(), 1, 2}, {"gas °C", float64(o.PeakGas), 400, any},
			{"efficiency points lower", (m.Efficiency - o.Efficiency).Percent(), 10, any}, {"minutes too hot", o.TooHot.Minutes(), 1, any}}
	}},
	{"the same, shut down at once after loading", func(s subject, low float64, m fire.Summary) []figure {
		acts := []fire.Act{s.air(0.05), {Kind: fire.ActLoad, Load: s.load(6, 0.18, 4, stove.EndOn)}}
		if _, ok := s.Control("secondary"); ok {
			acts = append(acts, fire.Act{Kind: fire.ActControl, Role: stove.SecondAir, Opening: 0.1})
		}
		r := fire.Run(s.setup(), []fire.Move{{Do: acts}}, fire.Options{Until: 10 * time.Hour})
		early, later := r.Samples[3], r.Samples[60]
		before, _ := early.Reading(stove.ConnectorProbe)
		after, _ := later.Reading(stove.ConnectorProbe)
		return []figure{{"times the smoke per kg", r.Summary.SmokePerKg / m.SmokePerKg, 5, any},
			{"gauge falls by K in the hour", float64(before - after), 5, any},
			{"share of both burns' deposits %", 100 * r.Summary.Deposits / (r.Summary.Deposits + m.Deposits), 60, 100}}
	}},
	{"u 35 % instead of 18 %", func(s subject, low float64, m fire.Summary) []figure {
		s.Gauges = s.Gauges[1:] // steered by the top plate
		dry, wet := s.burn(s.staged(s.load(6, 0.18, 4, stove.EndOn), low), 12), s.burn(s.staged(s.load(6, 0.35, 4, stove.EndOn), low), 12)
		longer := 99.0
		if wet.ToWorking > 0 {
			longer = wet.ToWorking.Minutes() / dry.ToWorking.Minutes()
		}
		return []figure{{"top lower by K", float64(dry.PeakTop - wet.PeakTop), 50, any},
			{"times the smoke", wet.SmokePerKg / dry.SmokePerKg, 2, any}, {"times as long to the working band", longer, 1.5, any}}
	}},
	{"three single pieces 50 min apart against three together", func(s subject, low float64, m fire.Summary) []figure {
		one := func() fire.Act { return fire.Act{Kind: fire.ActLoad, Load: s.load(1.5, 0.18, 1, stove.EndOn)} }
		singles := []fire.Move{{Do: []fire.Act{s.air(0.5), one()}}, {When: fire.Trigger{After: 50 * time.Minute}, Do: []fire.Act{one()}},
			{When: fire.Trigger{After: 50 * time.Minute}, Do: []fire.Act{one()}}}
		together := []fire.Move{{Do: []fire.Act{s.air(0.5), {Kind: fire.ActLoad, Load: s.load(4.5, 0.18, 3, stove.EndOn)}}}}
		if s.Family == stove.Catalytic {
			lit := fire.Move{When: fire.Trigger{After: 4 * time.Minute, Gauge: stove.CatalystProbe, Above: 265, Latest: 40 * time.Minute},
				Do: []fire.Act{bypass(0)}}
			singles, together = append([]fire.Move{singles[0], lit}, singles[1:]...), append(together, lit)
		}
		return []figure{{"times the smoke per kg", s.burn(singles, 8).SmokePerKg / s.burn(together, 8).SmokePerKg, 1.3, any}}
	}},
	{"cold start, bottom-up against top-down", func(s subject, low float64, m fire.Summary) []figure {
		up, down := s.cold(fire.BottomUp, s.setup()), s.cold(fire.TopDown, s.setup())
		return []figure{{"less smoke in 20 min, %", 100 * (1 - down.SmokeEarly/up.SmokeEarly), 30, 100}}
	}},
	{"catalyst engaged at light-off against never; engaged cold", func(s subject, low float64, m fire.Summary) []figure {
		s.Stove = mid(stove.Catalytic, s.Volume)
		steps := s.staged(s.load(6, 0.18, 4, stove.EndOn), low)
		with, never := s.burn(steps, 12), s.burn(append(steps[:1:1], steps[2:]...), 12)
		shut := []fire.Act{s.air(0.05), {Kind: fire.ActLoad, Load: s.load(6, 0.18, 4, stove.EndOn)}}
		cold, round := s.burn([]fire.Move{{Do: append([]fire.Act{bypass(0)}, shut...)}}, 6), s.burn([]fire.Move{{Do: shut}}, 6)
		return []figure{{"times less smoke", never.SmokePerKg / with.SmokePerKg, 3, any},
			{"efficiency points higher", (with.Efficiency - never.Efficiency).Percent(), 6, any},
			{"engaged cold, times the smoke of the bypass", cold.SmokePerKg / round.SmokePerKg, 0.9, any}}
	}},
	{"mild day (15 °C) and 4 m chimney; a 300 m³/h hood in a tight house", func(s subject, low float64, m fire.Summary) []figure {
		mild := s
		mild.Chimney.Height = 4
		setup := mild.setup()
		setup.Outdoor = 15
		o := fire.Run(setup, mild.staged(s.load(6, 0.18, 4, stove.EndOn), low), fire.Options{Until: 14 * time.Hour})
		usual := fire.Run(s.setup(), s.staged(s.load(6, 0.18, 4, stove.EndOn), low), fire.Options{Until: 14 * time.Hour})
		setup.House.Fan, setup.House.N50 = 300, 1.5
		hood := mild.cold(fire.TopDown, setup)
		return []figure{{"draft lower by Pa", meanDraft(usual) - meanDraft(o), 2, any},
			{"burn rate lower, %", 100 * (1 - burntIn(o, 2*time.Hour)/burntIn(usual, 2*time.Hour)), 3, any},
			{"spills at the cold start (1 yes)", yes(hood.SpilledCold), 1, 1}}
	}},
	{"overnight, big pieces, sideways, lowest clean setting, 70 L, 9 kg of dense wood", func(s subject, _ float64, m fire.Summary) []figure {
		s.Volume = 70
		oak, _ := wood.SpeciesByKey("white-oak")
		l := &fire.Load{Species: oak, Moisture: 0.18, Pieces: 4, PieceMass: 9. / 4, PieceLength: 0.4, Direction: stove.Sideways, Lay: fire.OnCoals}
		o := s.burn(s.staged(l, s.lowest(l, func(m fire.Summary) bool { return m.SmokePerKg < 6 && m.Smoulder < 20*time.Minute })), 9)
		return []figure{{"coals after 9 h, kg", float64(o.Coals), 0.3, 9}, {"smoke g/kg", o.SmokePerKg, 0, 6},
			{"minutes smouldering", o.Smoulder.Minutes(), 0, 20}}
	}},
}

// cold lights a cold stove by a lay, with the door ajar for nine minutes.
func (s subject) cold(lay fire.Lay, setup fire.Setup) fire.Summary {
	setup.Coals, setup.Warmth = 0, 0
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	splits := s.load(3.9, 0.18, 3, stove.Sideways)
	splits.Lay = lay
	kindling := &fire.Load{Species: soft, Moisture: 0.13, Pieces: 13, PieceMass: units.Kilogram(0.09 * s.scale()), PieceLength: 0.25,
		Kindling: true, Lay: lay, StarterKind: fire.WaxBlock}
	return fire.Run(setup, []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActDoor, Door: fire.Ajar}, {Kind: fire.ActLoad, Load: splits},
		{Kind: fire.ActLoad, Load: kindling}, {Kind: fire.ActLight}}},
		{When: fire.Trigger{After: 9 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}}, fire.Options{Until: 4 * time.Hour,
		Every: time.Minute}).Summary
}

func meanDraft(r fire.Result) float64 {
	sum := 0.0
	for _, s := range r.Samples[:180] {
		sum += float64(s.Draft) / 180
	}
	return sum
}

// burntIn is the dry wood gone after a time, kg.
func burntIn(r fire.Result, d time.Duration) float64 {
	return float64(r.Samples[0].Wood - r.Samples[int(d/time.Minute)].Wood)
}

func yes(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// TestBehaviour holds the simulator to what experienced owners see. Loads are
// given for 55 L and scaled with the firebox; nothing else is set for a stove
// but what its owner knows.
func TestBehaviour(t *testing.T) {
	stronger := apart(mid(stove.SecondaryAir, 47))
	stronger.Output = 8000
	for _, st := range []stove.Stove{mid(stove.SecondaryAir, 55), stronger, mid(stove.Catalytic, 70)} {
		s := subject{st}
		usual := s.load(6, 0.18, 4, stove.EndOn)
		low := s.lowest(usual, clean)
		m := s.burn(s.staged(usual, low), 10)
		report := fmt.Sprintf("%s, %.0f L, lowest clean setting %.0f %%\n", st.Family, float64(st.Volume), low*100)
		for _, row := range rows {
			report += "  " + row.name + "\n"
			for _, f := range row.run(s, low, m) {
				ok := f.got >= f.low && f.got <= f.high
				mark := " "
				if !ok {
					mark = "✗"
				}
				limit := fmt.Sprintf("%g to %g", f.low, f.high)
				if f.high == any {
					limit = fmt.Sprintf("at least %g", f.low)
				}
				report += fmt.Sprintf("  %s   %-45s %8.2f   %s\n", mark, f.what, f.got, limit)
				assert.True(t, ok, "%s %.0f L, %s: %s is %.2f, wanted %s", st.Family, float64(st.Volume), row.name, f.what, f.got, limit)
			}
		}
		t.Log("\n" + report)
	}
}
