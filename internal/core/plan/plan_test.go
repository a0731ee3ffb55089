package plan_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/demo"
)

// wish is a usual evening in one of the demo's stoves, with wood that fits.
func wish(stoveIndex, stackIndex int, start plan.Start) plan.Wish {
	st, stacks := demo.Stoves()[stoveIndex], demo.Stacks()
	return plan.Wish{Stove: st.Stove, House: st.Space.House, Aim: plan.Hold, For: 5 * time.Hour, Outdoor: 2, Room: 17, Low: 19, High: 21.5, Start: start,
		Wood: plan.Pick{ID: 1, Stack: stacks[stackIndex]}, Kindling: &plan.Pick{ID: 2, Stack: stacks[5]}}
}

// woodOf is the stack that each demo stove burns.
var woodOf = []int{0, 1, 2, 4}

func TestEveryStoveGetsAPlanThatKeepsToTheManual(t *testing.T) {
	for i, st := range demo.Stoves() {
		for _, start := range []plan.Start{plan.Cold, plan.GoodCoals} {
			p, err := plan.Make(wish(i, woodOf[i], start))
			require.NoError(t, err, "%s, %s", st.Name, start)
			piece := p.Wish.Wood.Stack.PieceMass
			for _, s := range p.Steps {
				for _, a := range s.Fire.Do {
					if a.Load != nil {
						assert.LessOrEqual(t, a.Load.Mass(), st.MaxLoad+1e-9, "%s: over the manual's load", st.Name)
						assert.LessOrEqual(t, a.Load.PieceLength, st.LongestPiece(a.Load.Direction), "%s: too long for the firebox", st.Name)
					}
				}
				assert.LessOrEqual(t, s.Earliest, s.Latest)
			}
			assert.InDelta(t, float64(piece)*float64(p.Pieces())+float64(p.Kindling.Mass()), float64(p.Mass()), 1e-9, "whole pieces of that stack")
			assert.LessOrEqual(t, p.Summary.TooHot, 2*time.Minute, st.Name)
			assert.Less(t, p.Summary.SmokePerKg, 9.0, st.Name)
			assert.Len(t, p.Low, len(p.Predicted.Room), "the range is as long as the curve")
			assert.Equal(t, start != plan.Cold, p.Kindling.Pieces == 0)
		}
	}
}

func TestStepsAreSaidInTheOwnersMarksAndUnits(t *testing.T) {
	p, err := plan.Make(wish(0, 0, plan.Cold))
	require.NoError(t, err)
	said := p.Say(units.Imperial)
	require.Equal(t, plan.LightIt, said[0].Kind)
	assert.Empty(t, said[0].When, "the first thing has no time")
	var last plan.Instruction
	for _, in := range said {
		assert.NotEmpty(t, in.Why, "%s has its reason", in.Do)
		if in.Kind == plan.TurnDown {
			last = in
		}
		if in.Kind == plan.ShutDoor {
			assert.Contains(t, in.Sign, "°F")
		}
	}
	lever, _ := p.Wish.Stove.MainAir()
	final := p.Final
	if n := len(p.Feeds); n > 0 {
		final = p.Feeds[n-1].Final
	}
	assert.Equal(t, "Lever to "+lever.Scale.Say(final), last.Do)
	assert.Contains(t, last.When, " in")
	assert.Contains(t, p.Sentence(units.Metric), "Beech, lean-to")
	assert.NotEmpty(t, p.Checklist(units.Metric))
}

func TestTheCatalystWaitsForLightOff(t *testing.T) {
	p, err := plan.Make(wish(1, 1, plan.GoodCoals))
	require.NoError(t, err)
	closed := -1
	for i, s := range p.Steps {
		if s.Kind == plan.CloseIt {
			closed = i
			assert.Equal(t, stove.CatalystProbe, s.Fire.When.Gauge)
			assert.GreaterOrEqual(t, s.Fire.When.Above, units.Celsius(260))
		}
		if s.Kind == plan.TurnDown {
			assert.GreaterOrEqual(t, closed, 0, "trim the air only once the bypass is closed")
		}
	}
	assert.GreaterOrEqual(t, closed, 0)
}

func TestWhatAnOwnerWouldExpect(t *testing.T) {
	make := func(change func(*plan.Wish)) plan.Plan {
		w := wish(0, 0, plan.GoodCoals)
		change(&w)
		p, err := plan.Make(w)
		require.NoError(t, err)
		return p
	}
	usual := make(func(*plan.Wish) {})
	mild, cold := make(func(w *plan.Wish) { w.Outdoor, w.Room = 14, 20 }), make(func(w *plan.Wish) { w.Outdoor = -8 })
	assert.Less(t, mild.Mass(), cold.Mass(), "a milder evening takes less wood")
	assert.LessOrEqual(t, usual.Mass(), cold.Mass())
	short := make(func(w *plan.Wish) { w.For, w.Outdoor = 2*time.Hour, -8 })
	assert.LessOrEqual(t, short.Mass(), cold.Mass(), "and so does a shorter stay")
	leaky := make(func(w *plan.Wish) { w.House.Build, w.House.Floor = "draughty", 90 })
	tight := make(func(w *plan.Wish) { w.House.Build, w.House.Floor = "tight", 40 })
	assert.Less(t, tight.Mass(), leaky.Mass(), "a leaky house wants more than a tight one")
	wet := make(func(w *plan.Wish) { w.Wood.Stack.Reading = 0.23 })
	assert.GreaterOrEqual(t, wet.Final, usual.Final, "wetter wood wants more air to burn clean")
	assert.Greater(t, wet.Summary.SmokePerKg, usual.Summary.SmokePerKg)
	assert.Equal(t, usual, make(func(*plan.Wish) {}), "the same wish gives the same plan")
}

func TestNoPlanSaysWhy(t *testing.T) {
	for says, change := range map[string]func(*plan.Wish){
		"this firebox takes":     func(w *plan.Wish) { w.Wood.Stack.PieceLength = 0.6 },
		"is used up":             func(w *plan.Wish) { w.Wood.Stack.Mass = 0.5 },
		"the manual's largest":   func(w *plan.Wish) { w.Wood.Stack.PieceMass = 9 },
		"no setting burns that":  func(w *plan.Wish) { w.Wood.Stack.Reading = 0.5 },
		"must rise from a lower": func(w *plan.Wish) { w.High = 15 },
		"pulls harder than the": func(w *plan.Wish) {
			w.Start, w.Outdoor, w.House.Fan, w.House.N50, w.House.Volume = plan.Cold, 16, 500, 1, 300_000
		},
	} {
		w := wish(0, 0, plan.Cold)
		change(&w)
		_, err := plan.Make(w)
		var refused *plan.Refusal
		require.ErrorAs(t, err, &refused, says)
		assert.Contains(t, refused.Why, says)
		assert.NotEmpty(t, refused.Try, "and what would do")
	}
}

func TestDraftBeforeLighting(t *testing.T) {
	w := wish(0, 0, plan.Cold)
	w.Room, w.Outdoor = 18, 0
	calm := plan.BeforeLighting(w)
	w.House.Fan, w.House.N50 = 400, 1.5
	hood := plan.BeforeLighting(w)
	assert.True(t, hood.DoNot, "a hood in a tight house: do not light (%v Pa)", hood.Net)
	assert.Less(t, hood.Net, calm.Net)
	assert.Greater(t, hood.FanOff, hood.Net)
	assert.Greater(t, hood.Window, hood.Net)
	assert.Greater(t, hood.Primed, hood.Net, "each help helps")
	w.Help.Window = true
	assert.InDelta(t, float64(hood.Window), float64(plan.BeforeLighting(w).Net), 1e-9, "what is wished is what was shown")
	w.Help = plan.Help{}
	w.Stove.Chimney.Outside = true
	assert.Less(t, plan.BeforeLighting(w).Net, hood.Net, "a chimney on an outside wall is colder")
}

// Only what removes the reason lets it be lit, by its own figures; what makes it
// no better, or worse, does not.
func TestOnlyWhatHelpsLetsItBeLit(t *testing.T) {
	lit := 0
	for _, outdoor := range []units.Celsius{-2, 8, 16} {
		for _, fan := range []units.Flow{0, 250, 500} {
			for _, help := range []plan.Help{{}, {FansOff: true}, {Window: true}, {Primed: true}, {FansOff: true, Window: true, Primed: true}} {
				w := wish(2, 2, plan.Cold) // an outside chimney
				w.Room, w.Outdoor, w.House.Fan, w.House.N50, w.Help = 20, outdoor, fan, 2, help
				b := plan.BeforeLighting(w)
				p, err := plan.Make(w)
				if b.DoNot {
					var refused *plan.Refusal
					require.ErrorAs(t, err, &refused, "%+v at %v with %v", help, outdoor, fan)
					assert.Contains(t, refused.Why, "Do not light")
					assert.NotNil(t, refused.Before, "the figures come with it")
					continue
				}
				if err != nil {
					continue // for another reason
				}
				lit++
				assert.False(t, p.Summary.SpilledCold, "%+v at %v with %v", help, outdoor, fan)
				said := p.Say(units.Metric)[0]
				assert.Equal(t, help.FansOff, strings.Contains(said.Sign, "Extraction fans off"), "what it was reckoned with is said")
				assert.Equal(t, help.Window, strings.Contains(said.Sign, "window"))
				if help.Primed {
					assert.Contains(t, said.Sign, "warm the flue")
				}
			}
		}
	}
	assert.Positive(t, lit)
}

// In a boat nobody sleeps with a fire in, unless the manual allows it, and then
// with the caution.
func TestNoFireAloneInABoat(t *testing.T) {
	for name, change := range map[string]func(*plan.Wish){
		"night":       func(w *plan.Wish) { w.Aim, w.For = plan.Overnight, 8*time.Hour },
		"away":        func(w *plan.Wish) { w.Aim = plan.Away },
		"nobody soon": func(w *plan.Wish) { w.There = plan.Presence{{To: 2 * time.Hour}} },
	} {
		w := wish(3, 4, plan.Cold)
		w.Outdoor = 8
		change(&w)
		_, err := plan.Make(w)
		require.ErrorContains(t, err, "unless the stove's manual allows it", name)
		van := wish(0, 0, plan.Cold) // an ordinary stove in a van is no better
		van.House = w.House
		change(&van)
		_, err = plan.Make(van)
		require.ErrorContains(t, err, "unless the stove's manual allows it", name)
		w.Stove.Unattended = true
		if p, err := plan.Make(w); err == nil {
			assert.Contains(t, strings.Join(p.Warnings(units.Metric), " "), "Check it once more", name)
		} else {
			assert.NotContains(t, err.Error(), "manual allows", name)
		}
	}
}

// everything is a stove with every control there is.
func everything(roles ...stove.Role) plan.Wish {
	w := familyWish(stove.MultiFuel, plan.Cold)
	w.Stove.Controls = nil
	for _, r := range roles {
		name := "The " + string(r)
		w.Stove.Controls = append(w.Stove.Controls, stove.Control{Key: string(r), Name: name, Role: r, Scale: stove.Scale{Kind: stove.Turns, Full: 4}})
	}
	return w
}

// What a plan relies on is said: an owner who sets just the controls that the
// steps name, and no other, has the fire that was planned; and nothing is left
// open that was opened only to light.
func TestEveryControlIsNamedAndShutAgain(t *testing.T) {
	for name, w := range map[string]plan.Wish{
		"flap":        everything(stove.PrimaryAir, stove.SecondAir, stove.AshFlap),
		"from below":  everything(stove.UnderGrate, stove.GlassWash),
		"two firsts":  everything(stove.TopAir, stove.UnderGrate, stove.DoorVent, stove.Blower),
		"fan":         everything(stove.PrimaryAir, stove.Fan, stove.Blower, stove.Damper),
		"only a fan":  everything(stove.Fan),
		"with bypass": everything(stove.Combined, stove.BypassRole, stove.OutsideAir),
	} {
		require.NoError(t, w.Stove.Check(), name)
		p, err := plan.Make(w)
		require.NoError(t, err, name)
		said := p.Say(units.Metric)
		last := map[stove.Role]float64{}
		var b burn.Burn
		coals, warmth := w.Start.Coals(w.Stove.Volume)
		begin := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
		b = burn.Burn{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth, Started: begin}
		add := func(at time.Duration, e burn.Entry) {
			e.ID, e.At = fmt.Sprintf("e%d", len(b.Entries)), begin.Add(at)
			b.Entries = append(b.Entries, e)
		}
		for i, s := range p.Steps {
			for _, set := range said[i].Settings {
				words := strings.ReplaceAll(said[i].Do+" "+said[i].Set, " to ", " ")
				assert.Contains(t, strings.ToLower(words), strings.ToLower(set.Control.Name+" "+set.Says), "%s, %s: %s", name, s.Kind, words)
				opening, err := set.Control.Scale.Parse(set.Says)
				require.NoError(t, err)
				last[set.Control.Role] = opening
				add(s.Expected, burn.Entry{Kind: burn.Control, Control: set.Control.Key, Opening: opening})
			}
			for _, a := range s.Fire.Do {
				switch a.Kind {
				case fire.ActLoad:
					add(s.Expected, burn.Entry{Kind: burn.Load, Load: a.Load})
				case fire.ActDoor:
					add(s.Expected, burn.Entry{Kind: burn.Door, Door: a.Door})
				case fire.ActLight:
					add(s.Expected, burn.Entry{Kind: burn.Light})
				case fire.ActPrime:
					add(s.Expected, burn.Entry{Kind: burn.Prime})
				}
			}
		}
		for role, opening := range last {
			switch role {
			case stove.AshFlap, stove.Fan, stove.DoorVent, stove.BypassRole, stove.Blower:
				air, _ := w.Stove.MainAir()
				if role != air.Role {
					assert.Zero(t, opening, "%s: %s is left open", name, role)
				}
			}
		}
		got := b.Replay(begin.Add(w.For))
		assert.InDelta(t, p.Predicted.Room[int(w.For/p.Predicted.Every)-1], float64(got.Samples[len(got.Samples)-1].Room), 0.6, "%s: the room as planned", name)
		assert.InDelta(t, float64(p.Summary.PeakTop), float64(got.Summary.PeakTop), 25, name)
	}
}

func TestFollowingAPlan(t *testing.T) {
	p, err := plan.Make(wish(0, 0, plan.GoodCoals))
	require.NoError(t, err)
	start := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	coals, warmth := plan.GoodCoals.Coals(55)
	b := burn.Burn{Stove: p.Wish.Stove, House: p.Wish.House, Outdoor: 2, Room: 17, Coals: coals, Warmth: warmth, Started: start}
	follow := func(minute int) plan.Progress {
		now := start.Add(time.Duration(minute) * time.Minute)
		return p.Follow(b, b.Replay(now), now, units.Metric)
	}
	log := func(minute int, e burn.Entry) {
		e.At, e.ID = start.Add(time.Duration(minute)*time.Minute), string(e.Kind)+string(rune('a'+len(b.Entries)))
		b.Entries = append(b.Entries, e)
	}
	pr := follow(0)
	require.Equal(t, plan.LoadIt, pr.Next.Kind)
	assert.True(t, pr.Ready)
	log(1, burn.Entry{Kind: burn.Load, Load: p.Steps[0].Fire.Do[len(p.Steps[0].Fire.Do)-2].Load})
	pr = follow(2)
	require.Equal(t, plan.TurnDown, pr.Next.Kind)
	assert.False(t, pr.Ready, "two minutes after loading nothing is black all over")
	assert.NotEmpty(t, pr.Expect)
	log(3, burn.Entry{Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 120})
	assert.Contains(t, follow(4).Missed, "120 °C", "what was read counts, not what was computed")
	var last plan.Step
	for _, s := range p.Steps {
		if s.Kind == plan.TurnDown {
			last = s
		}
	}
	log(30, burn.Entry{Kind: burn.Control, Control: last.Control, Opening: last.Opening})
	pr = follow(31)
	if pr.Has {
		assert.Equal(t, plan.ReloadTime, pr.Next.Kind, "turned down at once counts for every step before")
	}
	assert.Equal(t, fire.Door(0), fire.Shut)
}

func TestWhatAStoveCanGive(t *testing.T) {
	w := wish(0, 0, plan.GoodCoals)
	o := w.OutputRange()
	assert.Greater(t, o.Low, units.Watt(800))
	assert.Greater(t, o.High, 15*o.Low/10, "a stove has a range")
	assert.Less(t, o.High, units.Watt(14000))
	assert.Contains(t, o.Match(o.Low/3, units.Metric), "small hot fires")
	assert.Contains(t, o.Match(o.High*2, units.Metric), "is missing, which other heating must give")
	assert.Contains(t, o.Match((o.Low+o.High)/2, units.Metric), "clean and safe")
	w.Wood.Stack.Reading = 0.6
	assert.Contains(t, w.OutputRange().Match(2000, units.Metric), "No setting")
}

func TestMineralFuelIsNotPlanned(t *testing.T) {
	w := wish(2, 2, plan.Cold)
	w.Wood.Stack.Species.Mineral = true
	_, err := plan.Make(w)
	assert.ErrorContains(t, err, "recorded and not simulated")
}
