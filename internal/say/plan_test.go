package say_test

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// best is a plan made quickly: safe and clean, if not the best there is.
func best(w wish.Wish) (plan.Plan, error) {
	return search.Best(context.Background(), w, search.Quick, nil)
}

// planned is one as an owner gets it.
func planned(t *testing.T, w wish.Wish) plan.Plan {
	t.Helper()
	c, err := search.Plans(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	return c.Plans[0]
}

func TestStepsAreSaidInTheOwnersMarksAndUnits(t *testing.T) {
	p, err := best(fixture.Evening(0, 0, wish.Cold))
	require.NoError(t, err)
	said := say.Steps(p, lang.Imperial)
	require.Equal(t, plan.LightIt, said[0].Kind)
	assert.Empty(t, said[0].When, "the first thing has no time")
	var last say.Instruction
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
	assert.Equal(t, "Lever to "+say.Mark(lever.Scale, final, lang.Metric), last.Do)
	assert.Contains(t, last.When, " in")
	assert.Contains(t, say.Plan(p, lang.Metric), "Beech, lean-to")
	assert.NotEmpty(t, say.Checklist(p, lang.Metric))
}

// Only what removes the reason lets it be lit, by its own figures; what makes it
// no better, or worse, does not.
func TestOnlyWhatHelpsLetsItBeLit(t *testing.T) {
	lit := 0
	for _, outdoor := range []units.Celsius{-2, 8, 16} {
		for _, fan := range []units.Flow{0, 250, 500} {
			for _, help := range []wish.Help{{}, {FansOff: true}, {Window: true}, {Primed: true}, {FansOff: true, Window: true, Primed: true}} {
				w := fixture.Evening(2, 2, wish.Cold) // an outside chimney
				w.Room, w.Outdoor, w.House.Fan, w.House.N50, w.Help = 20, outdoor, fan, 2, help
				b := wish.BeforeLighting(w)
				p, err := best(w)
				if b.DoNot {
					var refused *wish.Refusal
					require.ErrorAs(t, err, &refused, "%+v at %v with %v", help, outdoor, fan)
					assert.Contains(t, say.Refusal(refused, lang.Metric).Why, "Do not light")
					assert.NotNil(t, refused.Before, "the figures come with it")
					continue
				}
				if err != nil {
					continue // for another reason
				}
				lit++
				assert.False(t, p.Summary.SpilledCold, "%+v at %v with %v", help, outdoor, fan)
				said := say.Steps(p, lang.Metric)[0]
				assert.Equal(t, help.FansOff, strings.Contains(said.Sign, "Extraction fans off"), "what it was reckoned with is said")
				assert.Equal(t, help.Window, strings.Contains(said.Sign, "window"))
				if help.Primed {
					assert.Contains(t, said.Sign, "Warm the flue")
				}
			}
		}
	}
	assert.Positive(t, lit)
}

// What a plan relies on is said: an owner who sets just the controls that the
// steps name, and no other, has the fire that was planned; and nothing is left
// open that was opened only to light.
func TestEveryControlIsNamedAndShutAgain(t *testing.T) {
	for name, w := range map[string]wish.Wish{
		"flap":        everything(stove.PrimaryAir, stove.SecondAir, stove.AshFlap),
		"from below":  everything(stove.UnderGrate, stove.GlassWash),
		"two firsts":  everything(stove.TopAir, stove.UnderGrate, stove.DoorVent, stove.Blower),
		"fan":         everything(stove.PrimaryAir, stove.Fan, stove.Blower, stove.Damper),
		"only a fan":  everything(stove.Fan),
		"with bypass": everything(stove.Combined, stove.BypassRole, stove.OutsideAir),
	} {
		require.NoError(t, w.Stove.Check(), name)
		p := planned(t, w)
		said := say.Steps(p, lang.Metric)
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
				words := strings.ToLower(strings.ReplaceAll(said[i].Do+"; "+said[i].Set, " to ", " "))
				named := slices.ContainsFunc(strings.Split(words, "; "), func(part string) bool { // several that stand alike have their mark once
					return strings.Contains(part, strings.ToLower(set.Control.Name)) && strings.HasSuffix(part, strings.ToLower(set.Says))
				})
				assert.True(t, named, "%s, %s: %s %s in %q", name, s.Kind, set.Control.Name, set.Says, words)
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
			case stove.AshFlap, stove.Fan, stove.DoorVent, stove.BypassRole:
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

// everything is a stove with every control there is.
func everything(roles ...stove.Role) wish.Wish {
	w := fixture.FamilyEvening(stove.MultiFuel, wish.Cold)
	w.Stove.Controls = nil
	for _, r := range roles {
		name := "The " + string(r)
		w.Stove.Controls = append(w.Stove.Controls, stove.Control{Key: string(r), Name: name, Role: r, Scale: stove.Scale{Kind: stove.Turns, Full: 4}})
	}
	return w
}

// Whatever is planned is said: every step of every stove has words, in both
// systems of units, and the simulated hand finds every sign.
func TestEveryStepIsSaidAndComesToPass(t *testing.T) {
	for i := range 4 {
		p, err := best(fixture.Evening(i, fixture.WoodOf[i], wish.Cold))
		require.NoError(t, err)
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			said := say.Steps(p, lang.English(sys))
			require.Len(t, said, len(p.Steps))
			for _, in := range said {
				assert.NotEmpty(t, in.Do)
				assert.NotEmpty(t, in.Sign)
				assert.NotContains(t, in.Do+in.Sign+in.Why, "%!", "a broken format")
			}
			assert.NotEmpty(t, say.Plan(p, lang.English(sys)))
			for _, line := range append(say.Checklist(p, lang.English(sys)), say.Cautions(p, lang.English(sys))...) {
				assert.NotContains(t, line, "%!")
				assert.True(t, strings.HasSuffix(line, "."), line)
			}
		}
		for _, s := range p.Steps {
			if s.Kind != plan.ReloadTime && s.Kind != plan.LightIt {
				assert.GreaterOrEqual(t, s.Expected, time.Duration(0), "%s: %s never comes", p.Wish.Stove.Name, s.Kind)
			}
			if s.Kind == plan.TurnDown {
				air, _ := p.Wish.Stove.MainAir()
				if air.Scale.Kind == stove.Notches {
					assert.InDelta(t, s.Opening, air.Scale.Nearest(s.Opening), 1e-9, "a notch there is")
				}
			}
		}
	}
}

func TestPlansWarn(t *testing.T) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	w.Wood.Stack.Reading = 0.22
	p, err := best(w)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(say.Cautions(p, lang.Metric), " "), "Wood under 20 % would burn better")
	far := fixture.Evening(0, 0, wish.GoodCoals)
	far.Outdoor, far.Room, far.For = -28, 5, 8*time.Hour
	p, err = best(far)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(say.Cautions(p, lang.Metric), " "), "burning hotter is not the way")
	tiny, err := best(fixture.Evening(3, 4, wish.Cold))
	require.NoError(t, err)
	assert.Contains(t, strings.Join(say.Cautions(tiny, lang.Metric), " "), "opening for fresh air")
}

// A cold chimney is primed in the plan as it is on the checklist, and a flue on
// an outside wall needs it more.
func TestPriming(t *testing.T) {
	w := fixture.Evening(2, 2, wish.Cold)
	p, err := best(w)
	require.NoError(t, err)
	require.True(t, p.Before.Prime)
	primed := false
	for _, a := range p.Steps[0].Fire.Do {
		primed = primed || a.Kind == fire.ActPrime
	}
	assert.True(t, primed)
	assert.Contains(t, say.Steps(p, lang.Metric)[0].Sign, "Warm the flue")
	assert.Contains(t, strings.Join(say.Checklist(p, lang.Metric), " "), "burning paper held high")
	w.Outdoor, w.Stove.Chimney.Outside = -15, false
	w.Room = 18
	cold := wish.BeforeLighting(w)
	assert.False(t, cold.Prime, "frost outside and a chimney in the house: %v Pa", cold.Net)
}

func TestSeveralStacksAndAlternatives(t *testing.T) {
	w := fixture.Evening(0, 2, wish.Cold) // spruce at hand, and the oak
	w.Wood.ID = 3
	w.Others = []wish.Pick{{ID: 2, Stack: fixture.Evening(1, 1, wish.Cold).Wood.Stack}}
	w.Aim, w.For = wish.Overnight, 9*time.Hour
	c, err := search.Plans(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	require.Len(t, c.Plans, 3, "the best and two real alternatives")
	seen := map[string]bool{}
	for _, p := range c.Plans {
		said := say.Plan(p, lang.Metric)
		assert.False(t, seen[said], "%s is there twice", said)
		seen[said] = true
		assert.NotEmpty(t, say.Differs(p, c.Plans[0], lang.Metric))
		assert.LessOrEqual(t, p.Summary.TooHot, 2*time.Minute)
		assert.Less(t, p.Summary.SmokePerKg, 9.5)
		for _, s := range p.Steps {
			for _, a := range s.Fire.Do {
				if a.Load != nil && !a.Load.Kindling {
					assert.Contains(t, []int64{2, 3}, a.Load.StackID, "from a stack that is at hand")
				}
			}
		}
	}
	first := strings.Join([]string{say.Steps(c.Plans[0], lang.Metric)[0].Do, say.Plan(c.Plans[0], lang.Metric)}, " ")
	assert.Contains(t, first, c.Plans[0].FirstOf.Stack.Name, "which stack is said where there are several")
	alone, err := search.Plans(t.Context(), fixture.Evening(0, 0, wish.GoodCoals), search.Usual, nil)
	require.NoError(t, err)
	assert.Greater(t, alone.Tried, 100)
}

// Wood that is too wet is used only with what it costs, in figures.
func TestWetWoodSaysWhatItCosts(t *testing.T) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	w.Wood.Stack.Reading = 0.22
	p, err := best(w)
	require.NoError(t, err)
	require.NotNil(t, p.IfDry)
	// Dry wood smokes less, or gasses faster than this setting has air for: either is said.
	p.IfDry.SmokePerKg = p.Summary.SmokePerKg / 2
	assert.Regexp(t, `Dried to 18 % the same pieces would make half of the smoke`, strings.Join(say.Cautions(p, lang.Metric), " "))
	p.IfDry.SmokePerKg = p.Summary.SmokePerKg * 2
	assert.Contains(t, strings.Join(say.Cautions(p, lang.Metric), " "), "Dried to 18 % the same pieces would want their air further open")
	w.Wood.Stack.Reading = 0.14
	p, err = best(w)
	require.NoError(t, err)
	assert.Nil(t, p.IfDry)
}

// Few coals do not light big wood: whatever the stove, kindling goes on with the
// load and the door stays ajar until it burns; and the load does catch.
func TestFewCoalsTakeKindling(t *testing.T) {
	for _, start := range []wish.Start{wish.FewCoals, wish.LayerCoals} {
		for name, w := range map[string]wish.Wish{"Auntie": fixture.Evening(0, 0, start), "Snug": fixture.SinglesEvening(start),
			"another": fixture.FamilyEvening(stove.SecondaryAir, start)} {
			w.Start = start
			p, err := best(w)
			require.NoError(t, err, "%s %s", name, start)
			first := p.Steps[0]
			assert.Equal(t, plan.LightIt, first.Kind)
			assert.Equal(t, plan.ShutDoor, p.Steps[1].Kind)
			kindling, door := false, fire.Shut
			for _, a := range first.Fire.Do {
				kindling = kindling || a.Load != nil && a.Load.Kindling && (start == wish.LayerCoals) == (a.Load.Starter == 0 && a.Load.StarterKind == "")
				if a.Kind == fire.ActDoor {
					door = a.Door
				}
			}
			assert.True(t, kindling, "%s %s", name, start)
			assert.Equal(t, fire.Ajar, door)
			says := say.Steps(p, lang.Metric)[0]
			assert.Contains(t, says.Do, "kindling")
			assert.Contains(t, says.Do, "door ajar")
			assert.Contains(t, say.Checklist(p, lang.Metric)[0], "Some coals that still glow")
			// Flames within a quarter of an hour: it does not lie dead.
			caught := time.Duration(-1)
			for i, phase := range p.Predicted.Phases {
				if at := time.Duration(i) * p.Predicted.Every; caught < 0 && (phase == fire.Charring || phase == fire.Establishing || phase == fire.Cruising) && p.Predicted.Heat[i] > 200 {
					caught = at
				}
			}
			assert.Less(t, caught, 15*time.Minute, "%s %s", name, start)
			t.Logf("%s, %s: %s smoke %.1f", name, start, say.Plan(p, lang.Metric), p.Summary.SmokePerKg)
		}
	}
}

// Whoever is away or asleep too long for one fire is told how warm the room will
// be and what it takes.
func TestComingHomeToAWarmRoomSaysWhatItTakes(t *testing.T) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	w.Aim, w.For, w.Outdoor, w.Room, w.Low = wish.Away, 10*time.Hour, -6, 19, 18.5
	c, err := search.Plans(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	says := say.Return(c.Plans[0], lang.Metric)
	t.Log(says)
	assert.Regexp(t, `^When somebody is back the room is at about 1\d °C\. A fire lit then (has it at 18\.5 °C after about|does not reach)`, says)
	assert.Regexp(t, `takes about \d\.\d kW all the time: .* every \d`, says)
	assert.Equal(t, plan.LoadIt, c.Plans[0].Steps[0].Kind, "an absence begins with a load on coals")
	w.Outdoor, w.Room = 14, 20
	c, err = search.Plans(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	assert.Empty(t, say.Return(c.Plans[0], lang.Metric), "warm enough")
	w.Aim, w.Outdoor, w.Room = wish.Hold, -6, 17
	c, err = search.Plans(t.Context(), w, search.Usual, nil)
	require.NoError(t, err)
	assert.Empty(t, say.Return(c.Plans[0], lang.Metric), "nobody is away")
}

// A fire dries a room by the air it draws; a duct from outdoors draws none.
func TestDrying(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Aim, w.Outdoor, w.Humidity = wish.DryOut, 6, 0.85
	p, err := best(w)
	require.NoError(t, err)
	d, known := p.Drying()
	require.True(t, known)
	assert.InDelta(t, 0.33, float64(d.Warmed), 0.05, "winter air is dry once it is warm")
	assert.True(t, d.Air > 15 && d.Air < 300, "%.0f m³ in five hours", d.Air)
	assert.Positive(t, float64(d.Water))
	assert.Contains(t, say.Drying(p, lang.Metric), "m³ of it through the room")
	assert.Contains(t, say.Drying(p, lang.Imperial), "ft³ of it through the room")

	p.Wish.Outdoor, p.Wish.Humidity = 22, 1
	assert.Contains(t, say.Drying(p, lang.Metric), "too damp to dry with")
	p.Wish.Humidity = 0
	assert.Empty(t, say.Drying(p, lang.Metric), "not known is an answer")
	p.Wish.Humidity = 0.8
	p.Wish.Stove.Controls = append(p.Wish.Stove.Controls, stove.Control{Key: "gate", Name: "Gate", Role: stove.OutsideAir})
	_, known = p.Drying()
	assert.False(t, known, "its air comes from outdoors")
	p.Wish.Aim = wish.Hold
	assert.Empty(t, say.Drying(p, lang.Metric), "nobody asked")
}

// Towards the end a fire's draft is weak, and coals make carbon monoxide: a
// stormy night says so, a still one does not need to.
func TestGustsAreSaid(t *testing.T) {
	w := fixture.Evening(1, 1, wish.Cold)
	w.Aim, w.For = wish.Overnight, 9*time.Hour
	still, err := best(w)
	require.NoError(t, err)
	for i := range still.Predicted.Draft {
		still.Predicted.Draft[i] = 6
	}
	assert.NotContains(t, strings.Join(say.Cautions(still, lang.Metric), " "), "Gusts")
	still.Predicted.Draft[len(still.Predicted.Draft)*2/3] = 0.4
	still.Predicted.Coals[len(still.Predicted.Coals)*2/3] = 0.3
	assert.Contains(t, strings.Join(say.Cautions(still, lang.Metric), " "), "Gusts take the draft of the dying fire down to about 0.4 Pa")
}

// Whether to light at all is the first question.
func TestARoomThatHoldsByItself(t *testing.T) {
	said := func(outdoor, room units.Celsius, aim wish.Aim) string {
		w := fixture.Evening(0, 0, wish.Cold)
		w.Outdoor, w.Room, w.Aim = outdoor, room, aim
		p, err := best(w)
		require.NoError(t, err)
		return say.Lull(p.Wish, lang.Metric)
	}
	assert.Contains(t, said(18, 20.5, wish.Hold), "No fire is needed: by itself the room stays above 19 °C all that time")
	assert.Regexp(t, `By itself the room stays above 19 °C for about .*: lighting later would do`, said(13, 21, wish.Hold))
	for _, s := range []string{said(2, 17, wish.Hold), said(18, 20.5, wish.DryOut)} {
		assert.Empty(t, s)
	}
}

// Whoever lights another way than the planner's gets a plan for that way, or
// hears why not.
func TestAPlanForEveryLay(t *testing.T) {
	smoke, lighting := map[fire.Lay]float64{}, map[fire.Lay]float64{}
	for _, l := range fire.Lays {
		w := fixture.Evening(0, 0, wish.Cold)
		w.Lay = l
		p, err := best(w)
		if l == fire.OnCoals {
			assert.ErrorContains(t, err, string(wish.UnknownLay), "coals are not laid")
			continue
		}
		if err != nil {
			assert.ErrorContains(t, err, string(search.LayNotClean), l)
			continue
		}
		smoke[l] = p.Summary.SmokePerKg
		for _, s := range p.Predicted.Smoke[:20*time.Minute/p.Predicted.Every] {
			lighting[l] += s
		}
		assert.Equal(t, l, p.Lay)
		said := say.Steps(p, lang.Metric)[0]
		assert.Contains(t, said.Do, "door ajar")
		assert.NotContains(t, said.Do, "%!")
		if l == fire.OpenV {
			assert.GreaterOrEqual(t, p.First, 2, "a V of two")
		}
	}
	require.Contains(t, smoke, fire.TopDown)
	if s, ok := lighting[fire.BottomUp]; ok {
		assert.Greater(t, s, 1.2*lighting[fire.TopDown], "lit from below it smokes more in its first twenty minutes")
	}
	chosen, err := best(fixture.Evening(0, 0, wish.Cold))
	require.NoError(t, err)
	assert.LessOrEqual(t, chosen.Summary.SmokePerKg, smoke[fire.TopDown]+1)
	w := fixture.Evening(0, 0, wish.Cold)
	w.Lay = "pyramid"
	_, err = best(w)
	assert.Contains(t, say.Error(err, lang.Metric), `no lay called "pyramid"`)
}

// Every starter but a block that is only lit says what is done with it, and one that is built in
// leaves the door on the latch.
func TestWhatIsDoneWithAStarter(t *testing.T) {
	said := map[string]bool{}
	for _, row := range fire.Starters {
		w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
		w.OneLoad, w.Starter = true, row.Key
		p, err := search.Best(context.Background(), w, search.Quick, nil)
		require.NoError(t, err)
		in := say.Steps(p, lang.Metric)[0]
		assert.Equal(t, row.Latched, strings.Contains(in.Do, "on the latch"), in.Do)
		assert.False(t, said[in.How], "%s is an act of its own: %s", row.Key, in.How)
		said[in.How] = true
		assert.NotEmpty(t, say.Starters.Name(row.Key))
	}
}

// mostOfAStep is how many words of a step are in view: what, when, until. The rest is behind a tap.
const mostOfAStep = 25

var wordIn = regexp.MustCompile(`\p{L}[\p{L}\p{N}'’-]*`)

func TestAStepIsShort(t *testing.T) {
	longest := map[plan.StepKind]string{}
	see := func(w wish.Wish) {
		p, err := search.Best(context.Background(), w, search.Quick, nil)
		if err != nil {
			return
		}
		for i, in := range say.Steps(p, lang.Metric) {
			text := strings.TrimSpace(in.Do + " " + in.Sign + " " + in.Set)
			if n := len(wordIn.FindAllString(text, -1)); n > len(wordIn.FindAllString(longest[p.Steps[i].Kind], -1)) {
				longest[p.Steps[i].Kind] = text
			}
		}
	}
	for st := range fixture.Stoves() {
		for _, start := range []wish.Start{wish.Cold, wish.FewCoals, wish.LayerCoals, wish.GoodCoals} {
			w := fixture.Evening(st, fixture.WoodOf[st], start)
			w.For = 8 * time.Hour
			see(w)
			helped := w
			helped.Help = wish.Help{FansOff: true, Window: true, Primed: true}
			see(helped)
		}
	}
	for _, f := range stove.Families {
		see(fixture.FamilyEvening(f, wish.Cold))
	}
	for kind, text := range longest {
		for _, help := range []string{"Extraction fans off.", "A window open a crack.", "Warm the flue first."} {
			text = strings.ReplaceAll(text, help, "") // each is a thing of its own, asked for by whoever needs it
		}
		assert.LessOrEqual(t, len(wordIn.FindAllString(text, -1)), mostOfAStep, "%s: %s", kind, text)
	}
	assert.GreaterOrEqual(t, len(longest), 6)
}
