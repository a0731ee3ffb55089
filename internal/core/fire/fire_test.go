package fire_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func ExampleRun() {
	s := subject{mid(stove.SecondaryAir, 55)}
	r := fire.Run(s.setup(), s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.25), fire.Options{Until: 8 * time.Hour})
	fmt.Println(r.Summary.Efficiency > 0.7, r.Summary.TooHot < 5*time.Minute, r.Summary.MovesMissed)
	// Output: true true 0
}

// withControl adds a control to a stove.
func withControl(s stove.Stove, key string, role stove.Role) stove.Stove {
	s.Controls = append(append([]stove.Control(nil), s.Controls...),
		stove.Control{Key: key, Name: key, Role: role, Scale: stove.Scale{Kind: stove.PercentOpen}})
	return s
}

func set(role stove.Role, o float64) fire.Act {
	return fire.Act{Kind: fire.ActControl, Role: role, Opening: o}
}

// evening burns the usual load at an opening, with more acts at its start.
func (s subject) evening(final float64, more ...fire.Act) fire.Result {
	steps := s.staged(s.load(6, 0.18, 4, stove.EndOn), final)
	steps[0].Do = append(steps[0].Do, more...)
	return fire.Run(s.setup(), steps, fire.Options{Until: 8 * time.Hour})
}

func TestEveryFamilyBurnsCleanSomewhere(t *testing.T) {
	for _, f := range stove.Families {
		s := subject{mid(f, 40)}
		limit, length := 8.0, units.Metre(0.33)
		if f == stove.Tiny {
			s = subject{withControl(mid(f, 10), "barometric", stove.Barometric)}
			s.Chimney = flue.Chimney{Height: 3, Diameter: 0.1, Lining: flue.SingleRun}
			length = 0.16
		}
		if f == stove.Plain {
			limit = 11 // no second air: the best of them smoke
		}
		best := 1e9
		for _, o := range []float64{0.2, 0.3, 0.4, 0.5, 0.7} {
			l := s.load(5, 0.16, 4, stove.EndOn)
			l.PieceLength = length
			m := s.burn(s.staged(l, o), 8)
			if m.TooHot < 5*time.Minute && m.Smoulder < 10*time.Minute {
				best = min(best, m.SmokePerKg)
			}
		}
		assert.Less(t, best, limit, "%s: g of smoke per kg at its best", f)
	}
}

// Wet wood loses its flame earlier when it is turned down.
func TestWetWoodWantsMoreAir(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	low := func(u float64) float64 { return s.lowest(s.load(6, u, 4, stove.EndOn), clean) }
	assert.Greater(t, low(0.30), low(0.18))
}

func TestLaysSmokeInTheirOrder(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	before := 0.0
	for _, lay := range []fire.Lay{fire.TopDown, fire.Raft, fire.OpenV, fire.LeanTo, fire.BottomUp} {
		m := s.cold(lay, s.setup())
		assert.Greater(t, m.SmokeEarly, before, "%s smokes more at first than the lay before it", lay)
		assert.Greater(t, float64(m.PeakTop), 150.0, "%s takes", lay)
		before = m.SmokeEarly
	}
}

func TestStarters(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	soft, _ := wood.SpeciesByKey("softwood-offcuts")
	light := func(kind fire.Starter) fire.Summary {
		setup := s.setup()
		setup.Coals, setup.Warmth = 0, 0
		kindling := &fire.Load{Species: soft, Moisture: 0.13, Pieces: 13, PieceMass: 0.09, PieceLength: 0.25, Kindling: true, Lay: fire.TopDown,
			StarterKind: kind}
		return fire.Run(setup, []fire.Move{{Do: []fire.Act{{Kind: fire.ActLoad, Load: kindling}, {Kind: fire.ActLight}}}},
			fire.Options{Until: time.Hour}).Summary
	}
	for _, k := range fire.Starters {
		assert.True(t, k.Key.Known())
		assert.Less(t, float64(light(k.Key).Wood), 0.2, "%s lights the kindling", k.Key)
	}
	assert.InDelta(t, 13*0.09/1.13, float64(light("").Wood), 1e-6, "nothing lights by itself")
	assert.False(t, fire.Starter("petrol").Known())
}

func TestWhatGoesInFirstCatchesFirst(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	small, big := s.load(1.2, 0.18, 2, stove.EndOn), s.load(4.5, 0.18, 2, stove.EndOn)
	burn := func(first, second *fire.Load) fire.Summary {
		return s.burn([]fire.Move{{Do: []fire.Act{s.air(0.6), {Kind: fire.ActLoad, Load: first}, {Kind: fire.ActLoad, Load: second}}}}, 4)
	}
	assert.Less(t, burn(small, big).SmokeEarly, burn(big, small).SmokeEarly*1.001, "smallest on the coals")
	raked, left := s.load(6, 0.18, 4, stove.EndOn), s.load(6, 0.18, 4, stove.EndOn)
	left.Unraked = true
	quick, slow := s.burn(s.staged(raked, 0.3), 0.5), s.burn(s.staged(left, 0.3), 0.5)
	assert.Greater(t, slow.Wood, quick.Wood, "unraked coals light badly")
	again := s.burn([]fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: left}}},
		{When: fire.Trigger{After: time.Minute}, Do: []fire.Act{{Kind: fire.ActRake}}}}, 0.5)
	never := s.burn([]fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: left}}}}, 0.5)
	assert.Less(t, float64(again.Wood), float64(never.Wood))
}

// Every control is an opening of its own: in whatever order a stove's controls
// are listed and set, the same air comes in, and moving one moves no other.
func TestControlsInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		family := rapid.SampledFrom(stove.Families).Draw(t, "family")
		var roles []stove.Role
		for _, k := range stove.Roles {
			if k != stove.Barometric && k != stove.Riddle && rapid.Bool().Draw(t, "has "+string(k)) {
				roles = append(roles, k)
			}
		}
		if rapid.Bool().Draw(t, "two of a kind") && len(roles) > 0 {
			roles = append(roles, roles[0])
		}
		var controls []stove.Control
		openings := map[string]float64{}
		for i, r := range roles {
			key := fmt.Sprintf("%s-%d", r, i)
			controls = append(controls, stove.Control{Key: key, Name: key, Role: r, Scale: stove.Scale{Kind: stove.PercentOpen}})
			openings[key] = rapid.Float64Range(0.1, 1).Draw(t, "opening of "+key)
		}
		if len(controls) > stove.MostControls {
			controls = controls[:stove.MostControls]
		}
		air := func(order []stove.Control, set []stove.Control) fire.Sample {
			st := mid(family, 45)
			st.Controls = order
			setup := fire.Setup{Stove: st, House: house.Default(), Outdoor: 0, Room: 20, Coals: 0.5, Warmth: 150}
			var acts []fire.Act
			for _, c := range set {
				acts = append(acts, fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: openings[c.Key]})
			}
			return fire.Run(setup, []fire.Move{{Do: acts}}, fire.Options{Until: time.Minute}).Samples[1]
		}
		want := air(controls, controls)
		got := air(rapid.Permutation(controls).Draw(t, "listed"), rapid.Permutation(controls).Draw(t, "set"))
		for name, pair := range map[string][2]float64{"all": {want.Flow, got.Flow}, "primary": {want.PrimaryAir, got.PrimaryAir},
			"second": {want.SecondAir, got.SecondAir}, "grate": {want.GrateAir, got.GrateAir}} {
			require.InDelta(t, pair[0], pair[1], 1e-9, name)
		}
		if len(controls) > 0 { // opening one further never lets less in
			moved := rapid.SampledFrom(controls).Draw(t, "moved")
			if moved.Role.Air() {
				openings[moved.Key] = 1
				require.GreaterOrEqual(t, air(controls, controls).Flow, want.Flow-1e-9, moved.Role)
			}
		}
	})
}

// The bypass is shut when light-off has held: a gauge that falls back begins
// anew.
func TestAGaugeMustHold(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	load := s.load(6, 0.18, 4, stove.EndOn)
	first := func(held time.Duration) time.Duration {
		steps := []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: load}}},
			{When: fire.Trigger{Gauge: stove.ConnectorProbe, Above: 250, Held: held}, Do: []fire.Act{s.air(0.3)}}}
		return fire.Run(s.setup(), steps, fire.Options{Until: 2 * time.Hour}).Done[1]
	}
	at, held := first(0), first(5*time.Minute)
	require.Positive(t, at)
	assert.InDelta(t, 5, (held - at).Minutes(), 0.2)
	assert.Negative(t, first(3*time.Hour))
}

func TestControls(t *testing.T) {
	usual := subject{mid(stove.SecondaryAir, 55)}
	plain := usual.evening(0.25)

	fans := subject{withControl(mid(stove.Refractory, 55), "fan", stove.Fan)}
	assert.Less(t, fans.evening(0.25, set(stove.Fan, 1)).Summary.ToCoals, fans.evening(0.25).Summary.ToCoals, "forced air burns faster")

	blown := subject{withControl(mid(stove.SecondaryAir, 55), "blower", stove.Blower)}
	blower := blown.evening(0.25, set(stove.Blower, 1))
	assert.Less(t, float64(blower.Summary.PeakTop), float64(plain.Summary.PeakTop)-5, "a blower cools the stove")
	assert.Greater(t, float64(blower.Summary.ToRoom), float64(plain.Summary.ToRoom)*0.98)

	ash := subject{withControl(mid(stove.MultiFuel, 40), "flap", stove.AshFlap)}
	assert.Less(t, ash.evening(0.4, set(stove.AshFlap, 1)).Summary.ToCoals, ash.evening(0.4, set(stove.AshFlap, 0)).Summary.ToCoals,
		"air from below drives the fire")

	with := subject{withControl(mid(stove.SecondaryAir, 55), "damper", stove.Damper)}
	damped := with.evening(0.25, set(stove.Damper, 0.1))
	assert.Less(t, damped.Samples[60].Flow, plain.Samples[60].Flow, "a flue damper holds the gas back")

	tiny := subject{withControl(mid(stove.Tiny, 12), "barometric", stove.Barometric)}
	tiny.Chimney.Height = 7
	for _, x := range tiny.evening(0.6).Samples {
		assert.LessOrEqual(t, float64(x.Draft), 12.5, "the barometric damper holds the draft, but for the time that its flap takes")
	}

	leaky := usual
	leaky.Stove = withControl(leaky.Stove, "gate", stove.OutsideAir)
	hood := fire.Act{Kind: fire.ActFan, Flow: 500}
	assert.Greater(t, leaky.evening(0.25, hood, set(stove.OutsideAir, 1)).Samples[60].Draft,
		leaky.evening(0.25, hood, set(stove.OutsideAir, 0)).Samples[60].Draft,
		"ducted air does not feel the hood")
}

// A van is small, and warms by some degrees in three quarters of an hour.
func TestAVanWarmsWithinTheHour(t *testing.T) {
	s := subject{mid(stove.Tiny, 12)}
	s.Chimney.Height, s.Chimney.Diameter = 2.5, 0.1
	setup := s.setup()
	setup.Coals, setup.Warmth, setup.Room, setup.Outdoor = 0, 0, 8, 2
	setup.House = house.House{Floor: 8, Build: house.Vehicle, N50: 9, Volume: 15_000}
	r := fire.Run(setup, s.lit(fire.TopDown, 2), fire.Options{Until: time.Hour})
	t.Logf("room %.1f → %.1f °C", r.Samples[0].Room, r.Samples[45].Room)
	warmer := float64(r.Samples[45].Room - setup.Room)
	assert.Greater(t, warmer, 3.0)
	assert.Less(t, warmer, 15.0)
}

func TestHouseAndWeather(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	s.Chimney.Height = 4
	mild := s.setup()
	mild.Outdoor, mild.House.N50, mild.House.Fan = 15, 1.5, 300
	assert.True(t, s.cold(fire.TopDown, mild).SpilledCold, "a hood in a tight house")
	mild.House.Fan = 0
	assert.False(t, s.cold(fire.TopDown, mild).SpilledCold, "and without it")

	cold := s.setup()
	cold.Coals, cold.Warmth, cold.Outdoor, cold.Stove.Chimney.Outside = 0, 0, 12, true
	still := fire.New(cold, 0)
	primed := fire.New(cold, 0)
	primed.Prime(0.6e6)
	for range 60 {
		still.Step()
		primed.Step()
	}
	assert.Greater(t, primed.Draft(), still.Draft()+1, "burning paper under a cold flue makes draft")

	windy := s.setup()
	windy.Wind = 9
	lowest, highest := 1e9, -1e9
	r := fire.Run(windy, s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.3), fire.Options{Until: 3 * time.Hour, Every: 10 * time.Second})
	for _, x := range r.Samples[600:900] {
		lowest, highest = min(lowest, float64(x.Draft)), max(highest, float64(x.Draft))
	}
	assert.Greater(t, highest-lowest, 3.0, "gusts swing the draft")

	falling := s.setup()
	falling.Weather = []fire.Weather{{At: 0, Outdoor: 10}, {At: 4 * time.Hour, Outdoor: -10}}
	r = fire.Run(falling, nil, fire.Options{Until: 6 * time.Hour})
	assert.InDelta(t, 0, float64(r.Samples[120].Outdoor), 0.1, "half way at two hours")
	assert.InDelta(t, -10, float64(r.Samples[300].Outdoor), 0.1, "and then it stays")
	assert.Less(t, r.Samples[350].Room, units.Celsius(19), "the room follows the weather")

	outside, inside := s.setup(), s.setup()
	outside.Stove.Chimney.Lining, inside.Stove.Chimney.Lining = flue.BareLiner, flue.BareLiner
	outside.Stove.Chimney.Outside, outside.Stove.Chimney.Horizontal = true, 0.8
	steps := s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.25)
	a, b := fire.Run(outside, steps, fire.Options{Until: 6 * time.Hour}).Summary, fire.Run(inside, steps, fire.Options{Until: 6 * time.Hour}).Summary
	assert.Greater(t, a.Deposits, b.Deposits, "a chimney on an outside wall keeps more")
	require.Len(t, a.Sections, 5)
	assert.Positive(t, a.Sections[4], "a horizontal run on its own")
	assert.Zero(t, b.Sections[4])
}

func TestWhatSomebodyWouldSee(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	good := s.evening(0.25)
	assert.Equal(t, fire.Clear, good.Samples[120].Colour, "two hours in, only shimmer")
	assert.Zero(t, good.Samples[120].Flags)
	assert.Greater(t, good.Samples[120].CO2, units.Fraction(0.05))
	bad := fire.Run(s.setup(), []fire.Move{{Do: []fire.Act{s.air(0.02), set(stove.SecondAir, 0),
		{Kind: fire.ActLoad, Load: s.load(6, 0.25, 4, stove.EndOn)}}}}, fire.Options{Until: 5 * time.Hour})
	assert.Equal(t, fire.BlueGrey, bad.Samples[40].Colour)
	assert.NotZero(t, bad.Samples[40].Flags&fire.Smoulders)
	assert.NotZero(t, bad.Samples[40].Flags&fire.ColdFlue)
	assert.Greater(t, bad.Summary.Glass, good.Summary.Glass, "smoke blackens the glass")
	assert.Greater(t, bad.Samples[40].CO, 3*good.Samples[120].CO)
	choked := fire.Run(s.setup(), []fire.Move{{Do: []fire.Act{s.air(0), set(stove.SecondAir, 0)}}}, fire.Options{Until: time.Hour})
	assert.NotZero(t, choked.Samples[30].Flags&fire.StarvedCoals, "coals without air make carbon monoxide")
	assert.Greater(t, choked.Summary.Starved, 30*time.Minute)
}

func TestMineralFuelIsRecordedAndNotSimulated(t *testing.T) {
	mineral, err := wood.SpeciesByKey("mineral-fuel")
	require.NoError(t, err)
	s := subject{mid(stove.MultiFuel, 32)}
	l := s.load(3, 0.05, 6, stove.EndOn)
	l.Species = mineral
	m := s.burn([]fire.Move{{Do: []fire.Act{{Kind: fire.ActLoad, Load: l}}}}, 1)
	assert.InDelta(t, float64(l.Mass()), float64(m.Mineral), 1e-9)
	assert.Zero(t, m.Wood)
}

func TestTriggersWaitForTheirSign(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	load := fire.Act{Kind: fire.ActLoad, Load: s.load(6, 0.18, 4, stove.EndOn)}
	r := fire.Run(s.setup(), []fire.Move{{When: fire.Trigger{At: 10 * time.Minute}, Do: []fire.Act{load}},
		{When: fire.Trigger{After: 3 * time.Minute, Charred: true, Gauge: stove.Top, Above: 200}, Do: []fire.Act{s.air(0.3)}},
		{When: fire.Trigger{WoodLeft: 1}, Do: []fire.Act{s.air(0.5)}},
		{When: fire.Trigger{Gauge: stove.Top, Above: 900}, Do: []fire.Act{s.air(1)}}}, fire.Options{Until: 8 * time.Hour})
	assert.Equal(t, 10*time.Minute, r.Done[0])
	assert.GreaterOrEqual(t, r.Done[1], 13*time.Minute)
	top, _ := r.Samples[int(r.Done[1]/time.Minute)].Reading(stove.Top)
	assert.GreaterOrEqual(t, float64(top), 195.0, "and every piece black")
	assert.InDelta(t, 1, float64(r.Samples[int(r.Done[2]/time.Minute)].Wood), 0.05)
	assert.Negative(t, r.Done[3], "a sign that never comes")
	assert.Equal(t, 1, r.Summary.MovesMissed)
}

// What many burns have in common is burnt once; each then ends as by itself.
func TestABranchEndsAsTheWholeBurn(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	for _, opt := range []fire.Options{{Until: 6 * time.Hour}, {Until: 6 * time.Hour, Step: 8 * time.Second, Every: 4 * time.Minute, Coarse: true},
		{Until: 6 * time.Hour, GiveUp: fire.Limits{TooHot: time.Second}}} {
		a, b := s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.25), s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.6)
		branch := fire.RunTo(s.setup(), a, 2, opt)
		for _, steps := range [][]fire.Move{a, append(append([]fire.Move(nil), a[:2]...), b[2:]...), a} {
			assert.Equal(t, fire.Run(s.setup(), steps, opt), branch.Run(steps))
		}
	}
}

// A primer burns for a minute and a half whatever the step.
func TestThePrimerBurnsAsLongAtEveryStep(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	for _, step := range []time.Duration{time.Second, fire.DefaultStep, 5 * time.Second} {
		sim := fire.New(s.setup(), step)
		sim.Prime(0.3e6)
		fall, last := units.Pascal(0), time.Duration(0)
		for at := step; at < 3*time.Minute; at += step {
			before := sim.Draft()
			if sim.Step(); before-sim.Draft() > fall {
				fall, last = before-sim.Draft(), at-step
			}
		}
		assert.Equal(t, 90*time.Second, last, "%v a step", step)
	}
}

// While wood catches, flames feed on themselves and errors with them: the step
// must not matter to how much has caught.
func TestCatchingDoesNotDependOnTheStep(t *testing.T) {
	s := subject{mid(stove.SecondaryAir, 55)}
	for _, lay := range []fire.Lay{fire.TopDown, fire.BottomUp, fire.LeanTo} {
		n := night{setup: s.setup(), load: *s.load(4, 0.2, 3, stove.EndOn), lay: lay, final: 1, open: 40 * time.Minute}
		n.setup.Coals, n.setup.Warmth = 0, 0
		gone := func(step time.Duration, minutes int) float64 {
			wood := fire.Run(n.setup, n.steps(), fire.Options{Until: 20 * time.Minute, Step: step}).Samples
			return float64(wood[1].Wood - wood[minutes].Wood)
		}
		for _, minutes := range []int{5, 10, 20} {
			assert.InEpsilon(t, gone(fire.DefaultStep/8, minutes), gone(fire.DefaultStep, minutes), 0.012, "%s after %d min", lay, minutes)
		}
	}
}

// A fire that was seen to be out is out, with the wood that it had left, and stays so.
func TestAFireThatWentOut(t *testing.T) {
	setup, moves := usualEvening()
	f := fire.New(setup, 0)
	for _, a := range moves[0].Do {
		f.Do(a)
	}
	f.BurnTo(20*time.Minute, 0)
	before := f.Look()
	require.Greater(t, before.Wood, 1.0)
	require.False(t, before.Out)
	f.Do(fire.Act{Kind: fire.ActOut})
	f.BurnTo(3*time.Hour, 20*time.Minute)
	after := f.Look()
	assert.True(t, after.Out)
	assert.InDelta(t, before.Wood, after.Wood, 0.05, "what was wood is wood")
	assert.Equal(t, fire.Out, f.Sample().Phase)
}

// A heavy lined stove keeps its heat: burnt at a third it has over three quarters of it, and
// its gas leaves colder than that of a stove of plate.
func TestAHeavyStoveKeepsItsHeat(t *testing.T) {
	heavy, light := subject{mid(stove.Refractory, 60)}.evening(0.33).Summary, subject{mid(stove.SecondaryAir, 60)}.evening(0.33).Summary
	t.Logf("heavy %.0f %%, gas %.0f °C; of plate %.0f %%, %.0f °C", heavy.Efficiency.Percent(), float64(heavy.PeakGas), light.Efficiency.Percent(), float64(light.PeakGas))
	assert.Greater(t, float64(heavy.Efficiency), 0.75)
	assert.Less(t, float64(heavy.PeakGas), float64(light.PeakGas)-30)
}

// A bed of coals does not go out for too much air: blown at, it glows and burns away quicker.
func TestCoalsGlowInAnyAir(t *testing.T) {
	for _, f := range []stove.Family{stove.Plain, stove.SecondaryAir, stove.Refractory} {
		left := map[fire.Door]float64{}
		for _, d := range []fire.Door{fire.Shut, fire.Ajar, fire.Open} {
			fi := fire.New(fire.Setup{Stove: mid(f, 55), House: house.Default(), Outdoor: 2, Room: 20, Coals: 0.5, Warmth: 100}, 4*time.Second)
			fi.Do(fire.Act{Kind: fire.ActControl, Control: "lever", Role: stove.Combined, Opening: 0.5})
			fi.Do(fire.Act{Kind: fire.ActDoor, Door: d})
			fi.BurnTo(45*time.Minute, 0)
			left[d] = fi.Look().Coals
			assert.False(t, fi.Look().Out, "%s, door %v", f, d)
		}
		t.Log(f, left)
		assert.Less(t, left[fire.Ajar], left[fire.Shut]-0.03, "%s: a door ajar burns coals away", f)
	}
}
