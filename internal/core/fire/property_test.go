package fire_test

import (
	"flag"
	"fmt"
	"math"
	"os"
	"slices"
	"testing"
	"time"

	"pgregory.net/rapid"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// TestMain generates fewer scenarios than usual, for each is a burn of six
// hours, and the same ones every time, so that a change of the model and not the
// luck of the day decides. More and others: -rapid.checks=400 -rapid.seed=7.
func TestMain(m *testing.M) {
	flag.Parse()
	for name, value := range map[string]string{"rapid.checks": "60", "rapid.seed": "20251006"} {
		if f := flag.Lookup(name); f.Value.String() == f.DefValue {
			_ = f.Value.Set(value)
		}
	}
	os.Exit(m.Run())
}

// A night is a generated burn: any family, chimney, weather, wood and hand.
type night struct {
	setup fire.Setup
	load  fire.Load
	lay   fire.Lay
	final float64
	open  time.Duration // until the air is turned down
}

func anyNight(t *rapid.T) night {
	number := func(name string, low, high float64) float64 { return rapid.Float64Range(low, high).Draw(t, name) }
	family := rapid.SampledFrom(stove.Families).Draw(t, "family")
	volume := units.Litre(number("volume", 25, 110))
	if family == stove.Tiny {
		volume = units.Litre(number("tiny volume", 6, 20))
	}
	st := mid(family, volume)
	st.Chimney = flue.Chimney{Height: units.Metre(number("height", 3, 10)), Diameter: 0.15, Bends: rapid.IntRange(0, 2).Draw(t, "bends"),
		Lining: rapid.SampledFrom(flue.Linings).Draw(t, "lining"), Outside: rapid.Bool().Draw(t, "outside"), Horizontal: units.Metre(number("level", 0, 1))}
	if family == stove.Tiny {
		st.Chimney.Diameter, st.Chimney.Height = 0.1, units.Metre(number("tiny height", 2, 4))
		st.Controls = append(st.Controls, stove.Control{Key: "barometric", Name: "Barometric", Role: stove.Barometric,
			Scale: stove.Scale{Kind: stove.PercentOpen}})
	}
	sp, _ := wood.SpeciesByKey(rapid.SampledFrom([]string{"locust", "white-oak", "beech", "ash", "larch", "birch", "cherry", "douglas-fir",
		"alder", "spruce", "poplar"}).Draw(t, "species"))
	pieces := rapid.IntRange(2, 6).Draw(t, "pieces")
	n := night{
		setup: fire.Setup{Stove: st, House: house.Default(), Outdoor: units.Celsius(number("outdoor", -20, 18)), Room: units.Celsius(number("room", 12, 22)),
			Wind: number("wind", 0, 6)},
		load: fire.Load{Species: sp, Moisture: units.Fraction(number("moisture", 0.10, 0.30)), Pieces: pieces,
			PieceMass:   units.Kilogram(number("load per litre", 0.05, 0.13) * float64(volume) / float64(pieces)),
			PieceLength: units.Metre(math.Cbrt(float64(volume)/55) * 0.33),
			Direction:   rapid.SampledFrom([]stove.Direction{stove.EndOn, stove.Sideways}).Draw(t, "direction"), Lay: fire.OnCoals},
		lay: rapid.SampledFrom(fire.Lays).Draw(t, "lay"), final: number("final", 0.05, 1), open: time.Duration(number("open for", 10, 40)) * time.Minute,
	}
	if n.lay == fire.OnCoals {
		n.setup.Coals, n.setup.Warmth = units.Kilogram(0.011*float64(volume)), units.Celsius(number("warmth", 70, 150))
	}
	return n
}

func (n night) burn(step time.Duration) fire.Result {
	return fire.Run(n.setup, n.steps(), fire.Options{Until: 6 * time.Hour, Step: step})
}

// steps are the hand's: it opens, loads, shuts the bypass late, and turns down
// once.
func (n night) steps() []fire.Move {
	air, _ := n.setup.Stove.MainAir()
	set := func(o float64) fire.Act {
		return fire.Act{Kind: fire.ActControl, Control: air.Key, Role: air.Role, Opening: o}
	}
	l := n.load
	l.Lay = n.lay
	first := []fire.Act{set(1), {Kind: fire.ActLoad, Load: &l}, {Kind: fire.ActLight}}
	if n.lay != fire.OnCoals {
		soft, _ := wood.SpeciesByKey("softwood-offcuts")
		first = append(first, fire.Act{Kind: fire.ActDoor, Door: fire.Ajar}, fire.Act{Kind: fire.ActPrime, Heat: 0.3e6},
			fire.Act{Kind: fire.ActLoad, Load: &fire.Load{Species: soft, Moisture: 0.13, Pieces: 12,
				PieceMass: 0.0016 * units.Kilogram(n.setup.Stove.Volume), PieceLength: 0.2,
				Kindling: true, Lay: n.lay, StarterKind: fire.WaxBlock}})
	}
	return []fire.Move{{Do: first},
		{When: fire.Trigger{At: 8 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}},
		{When: fire.Trigger{At: n.open}, Do: []fire.Act{set(n.final), bypass(0)}}}
}

func TestMassAndEnergyClose(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := anyNight(t).burn(0).Summary
		if e := math.Abs(m.BalanceErr.Percent()); !(e <= 0.5) {
			t.Fatalf("the energy balance misses %.3f %%", e)
		}
		if e := math.Abs(m.MassErr.Percent()); !(e <= 0.5) {
			t.Fatalf("the mass balance misses %.3f %%", e)
		}
	})
}

// The flue-gas method knows nothing of stoves: it must find the same efficiency
// from the simulator's gas as the simulator from its heat flows.
func TestFlueGasMethodAgrees(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := anyNight(t)
		m := n.burn(0).Summary
		if m.In < 5e6 || m.Gas.CO2 < 0.01 || m.Spilled || m.MinDraft <= 0 {
			return // hardly anything burnt, or some of it stood still or went into the room past the analyser
		}
		if d := math.Abs((m.ByGas - m.Efficiency).Percent()); !(d <= 2) {
			t.Fatalf("by gas %.1f %%, by balance %.1f %% (%+v)", m.ByGas.Percent(), m.Efficiency.Percent(), m.Gas)
		}
	})
}

func TestNothingIsNegativeOrNotANumber(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		for _, s := range anyNight(t).burn(0).Samples {
			for name, v := range map[string]float64{"wood": float64(s.Wood), "coals": float64(s.Coals), "flow": s.Flow, "primary": s.PrimaryAir,
				"second": s.SecondAir,
				"gas":    s.Gas, "rate": s.BurnRate, "smoke": s.Smoke, "vapour": s.Vapour, "CO2": float64(s.CO2), "CO": float64(s.CO), "O2": float64(s.O2), "λ": s.Lambda,
				"flame": s.Flame, "burnout": s.Burnout, "deposits": s.Deposits, "glass": s.Glass} {
				if !(v >= 0) || math.IsInf(v, 0) {
					t.Fatalf("%s is %v at %v", name, v, s.At)
				}
			}
			// Wood gives off carbon dioxide of its own: with hardly any air it is more than air can make.
			if s.CO2+s.CO+s.O2 > 1 || s.CO2 > 0.21 && s.Lambda > 0.5 || s.CO2 > 0.6 || s.O2 > 0.21 || s.Burnout > 1 || s.Flame > 1 || s.Glass > 1 {
				t.Fatalf("more than all at %v: %+v", s.At, s)
			}
			for _, p := range stove.Places {
				if r, ok := s.Reading(p); ok && !(r > -60 && r < 1500) {
					t.Fatalf("%s reads %v at %v", p, r, s.At)
				}
			}
		}
	})
}

// Of a fire that is left alone once its door is shut: a hand that turns down or
// shuts a bypass by the clock meets the quicker fire at another point of its life.
func TestDrierWoodNeverLowersThePeak(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := anyNight(t)
		alone := func() fire.Summary {
			return fire.Run(n.setup, n.steps()[:2], fire.Options{Until: 6 * time.Hour}).Summary
		}
		wet := alone()
		n.load.Moisture -= units.Fraction(rapid.Float64Range(0.01, 0.05).Draw(t, "drier by"))
		dry := alone()
		within := units.Celsius(2) // K
		if n.load.Moisture < 0.15 {
			within = 10 // wood that is very dry gasses quicker than its air comes, and burns some of it in vain
		}
		if dry.PeakTop < wet.PeakTop-within {
			t.Fatalf("top %.1f °C with wetter wood, %.1f °C with drier", wet.PeakTop, dry.PeakTop)
		}
	})
}

// onCoals is a load on a bed of coals, as its owner would burn it: turned down once it is
// black, in a chimney that draws.
func onCoals(t *rapid.T) night {
	n := anyNight(t)
	n.lay, n.load.Lay, n.setup.Wind = fire.OnCoals, fire.OnCoals, 0
	n.setup.Coals, n.setup.Warmth = units.Kilogram(0.013*float64(n.setup.Stove.Volume)), 140
	n.setup.Stove.Chimney = flue.Chimney{Height: 6, Diameter: n.setup.Stove.Chimney.Diameter, Lining: flue.Insulated}
	n.setup.Outdoor = min(n.setup.Outdoor, 8)
	n.open = 15 * time.Minute
	n.final = max(n.final, 0.2)
	return n
}

// Above 15 % more water never makes less smoke for each kilogram, to within a tenth; nor
// does less air where it is less than the cleanest setting has; nor a colder start.
func TestWhatMakesSmoke(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := onCoals(t)
		n.load.Moisture = max(0.15, n.load.Moisture)
		smoke := func(n night) float64 {
			return fire.Run(n.setup, n.steps(), fire.Options{Until: 8 * time.Hour, Step: 4 * time.Second}).Summary.SmokePerKg
		}
		usual := smoke(n)
		wetter := n
		wetter.load.Moisture += units.Fraction(rapid.Float64Range(0.03, 0.1).Draw(t, "wetter by"))
		if wet := smoke(wetter); wet < 0.9*usual {
			t.Fatalf("%.2f g/kg at %.0f %%, %.2f at %.0f %%", usual, n.load.Moisture.Percent(), wet, wetter.load.Moisture.Percent())
		}
		least := usual // at the cleanest of what is as far open, or further
		for _, o := range []float64{0.3, 0.45, 0.7, 1} {
			if open := n; o > n.final {
				open.final = o
				least = min(least, smoke(open))
			}
		}
		if usual > 1.15*least { // under the clean range
			shut := n
			shut.final *= rapid.Float64Range(0.5, 0.9).Draw(t, "shut to")
			if s := smoke(shut); s < 0.85*usual {
				t.Fatalf("%.2f g/kg at %.2f, %.2f at %.2f", usual, n.final, s, shut.final)
			}
		}
		cold := n
		cold.setup.Warmth, cold.setup.Coals = 60, cold.setup.Coals*0.7
		if s := smoke(cold); s < 0.85*usual {
			t.Fatalf("%.2f g/kg from warm, %.2f from colder", usual, s)
		}
	})
}

func clamp(x, low, high float64) float64 { return max(low, min(high, x)) }

// A door that is left ajar does not cool a lively fire within ten minutes.
func TestADoorNeverCoolsALivelyFire(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := onCoals(t)
		n.load.Moisture = min(0.2, n.load.Moisture)
		top := func(d fire.Door) float64 {
			moves := []fire.Move{n.steps()[0], {When: fire.Trigger{At: 15 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: d}}}}
			moves[0].Do[0].Opening = clamp(n.final, 0.4, 0.6)
			r := fire.Run(n.setup, moves, fire.Options{Until: 26 * time.Minute})
			a, _ := r.Samples[25].Reading(stove.Top)
			if r.Samples[15].Flame < 0.5 || float64(r.Samples[25].Wood) < 0.4*n.load.Dry() {
				return 0 // not a lively one, or burnt down by then
			}
			return float64(a)
		}
		shut, ajar := top(fire.Shut), top(fire.Ajar)
		if ajar > 0 && ajar < 0.9*shut { // where all that the fire bears comes in already, more only thins it: to a tenth
			t.Fatalf("the top is at %.0f °C shut and at %.0f °C ajar after ten minutes", shut, ajar)
		}
	})
}

// At any moment of any fire, the same gas draws no less in a taller chimney. One
// that is colder than the weather sinks, and more so the taller it is.
func TestATallerChimneyNeverLowersDraft(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := anyNight(t)
		sim := fire.After(n.setup, n.steps(), time.Duration(rapid.IntRange(1, 240).Draw(t, "minutes"))*time.Minute)
		low, _ := sim.DraftHeld(0)
		high, warmer := sim.DraftHeld(units.Metre(rapid.Float64Range(0.3, 3).Draw(t, "taller by")))
		if warmer > 0 && high < low-0.02 { // Pa: a barometric damper has not quite come to rest
			t.Fatalf("draft %.3f Pa, and %.3f Pa with a taller chimney", low, high)
		}
	})
}

// Whether a cold lay takes is a threshold, and on its very edge a breath
// decides: among 6500 other fires 7 fail (docs/model.md).
func TestHalvingTheStepChangesLittle(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := anyNight(t)
		a, b := n.burn(fire.DefaultStep).Summary, n.burn(fire.DefaultStep/2).Summary
		for _, c := range []struct {
			name string
			a, b float64
		}{{"heat to the room", float64(a.ToRoom), float64(b.ToRoom)},
			{"peak of the top above the room", float64(a.PeakTop - n.setup.Room), float64(b.PeakTop - n.setup.Room)},
			{"efficiency", float64(a.Efficiency), float64(b.Efficiency)}, {"energy burnt", float64(a.In), float64(b.In)}} {
			if d := math.Abs(c.a-c.b) / math.Max(math.Abs(c.b), 1e-3); d > 0.02 {
				t.Fatalf("%s is %.4g at 2 s and %.4g at 1 s: %.1f %%", c.name, c.a, c.b, 100*d)
			}
		}
	})
}

// quiet watches every step of a fire, and finds the largest jump between two that
// follow each other while nobody touches anything.
type quiet struct {
	touched []time.Duration // when somebody did
	before  fire.Sample
	seen    bool
	bad     string
}

func (q *quiet) See(f *fire.Fire) {
	now := f.Sample()
	if q.seen && q.bad == "" && !slices.ContainsFunc(q.touched, func(at time.Duration) bool { return at >= 0 && now.At > at && now.At <= at+30*time.Second }) {
		probe, _ := now.Reading(stove.ConnectorProbe)
		last, _ := q.before.Reading(stove.ConnectorProbe)
		for _, c := range []struct {
			name          string
			a, b, nothing float64
		}{{"burn rate", q.before.BurnRate, now.BurnRate, 3e-5}, {"gas", q.before.Gas, now.Gas, 3e-5}, {"smoke", q.before.Smoke, now.Smoke, 4e-6},
			{"heat", float64(q.before.ToRoom), float64(now.ToRoom), 100}, {"flue gas", float64(last), float64(probe), 40}} {
			if math.Abs(c.b-c.a) > 0.5*max(math.Abs(c.a), math.Abs(c.b), c.nothing) {
				q.bad = fmt.Sprintf("%s goes from %.4g to %.4g at %v", c.name, c.a, c.b, now.At)
			}
		}
	}
	q.before, q.seen = now, true
}

func (q *quiet) Fork() fire.Watcher { fork := *q; return &fork }

// Nothing is dropped or begun at once: two steps that follow each other never
// differ by half while nobody touches anything.
func TestQuietNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := anyNight(t)
		n.setup.Wind = 0 // a gust may stop a draft
		done := fire.Run(n.setup, n.steps(), fire.Options{Until: 6 * time.Hour}).Done
		q := &quiet{touched: done}
		fire.Run(n.setup, n.steps(), fire.Options{Until: 6 * time.Hour, Every: fire.DefaultStep, Watch: q})
		if q.bad != "" {
			t.Fatal(q.bad)
		}
	})
}

// A fire that nothing glows in is out, whatever lies in the stove; and a flow that
// runs backwards, or stands, has no flue gas.
func TestADeadStoveIsOut(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	setup := s.setup()
	setup.Coals, setup.Warmth = 0, 0
	r := fire.Run(setup, []fire.Move{{Do: []fire.Act{{Kind: fire.ActLoad, Load: s.load(6, 0.18, 4, stove.EndOn)}}}}, fire.Options{Until: time.Hour})
	if p := r.Samples[30].Phase; p != fire.Out {
		t.Fatalf("wood that nobody lit is %s", p)
	}
	setup = s.setup()
	setup.House.Fan, setup.House.N50, setup.Outdoor = 900, 1, 20
	r = fire.Run(setup, nil, fire.Options{Until: 6 * time.Hour})
	for _, x := range r.Samples {
		if x.Draft < 0 && (x.CO2 != 0 || x.O2 != 0 || x.CO != 0) {
			t.Fatalf("flue gas of a flow that runs backwards at %v", x.At)
		}
	}
}
